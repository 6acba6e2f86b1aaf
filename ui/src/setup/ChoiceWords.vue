<script setup lang="ts">
import { ref, watch } from 'vue'

/** What a program writes for one choice, several with commas between. What is being typed stays as it is typed. */
const words = defineModel<string[]>({ required: true })
defineProps<{ placeholder: string }>()
const text = ref(words.value.join(', '))
const read = () =>
  text.value
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
watch(
  () => words.value.join(', '),
  (fresh) => fresh !== read().join(', ') && (text.value = fresh),
)
</script>

<template>
  <input v-model="text" class="input" :placeholder="placeholder" @input="words = read()" />
</template>

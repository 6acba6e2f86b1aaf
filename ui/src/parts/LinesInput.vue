<script setup lang="ts">
import { ref, watch } from 'vue'

/** Several short texts, one a line. What is being typed stays, whatever else on the page is drawn anew meanwhile. */
const props = defineProps<{ id?: string; most?: number; label?: string }>()
const lines = defineModel<string[]>({ required: true })
const text = ref(lines.value.join('\n'))

const read = () => [
  ...new Set(
    text.value
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean),
  ),
]
watch(
  () => lines.value.join('\n'),
  (fresh) => fresh !== read().slice(0, props.most).join('\n') && (text.value = fresh),
)
</script>

<template>
  <textarea
    :id="id"
    v-model="text"
    class="input"
    rows="3"
    :aria-label="label"
    @change="lines = read().slice(0, most ?? 9)"
  />
</template>

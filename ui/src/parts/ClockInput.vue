<script setup lang="ts">
import { ref, watch } from 'vue'

/** A time of day by the 24-hour clock. Takes "9", "930" and "9:30" and makes "09:30" of it; empty is no time. */
defineProps<{ id?: string; label?: string }>()
const value = defineModel<string>({ required: true })
const text = ref(value.value)
const wrong = ref(false)
watch(value, (fresh) => (text.value = fresh))

function read() {
  const typed = text.value.trim()
  const parts = /^(\d{1,2})(?:[:.]?(\d{2}))?$/.exec(typed)
  wrong.value = typed !== '' && (!parts || Number(parts[1]) > 23 || Number(parts[2] ?? 0) > 59)
  if (wrong.value) return
  const clock = parts ? `${parts[1]!.padStart(2, '0')}:${parts[2] ?? '00'}` : ''
  text.value = clock
  value.value = clock
}
</script>

<template>
  <span class="inline-block">
    <input
      :id="id"
      v-model="text"
      class="input !w-[72px]"
      placeholder="09:00"
      inputmode="numeric"
      maxlength="5"
      autocomplete="off"
      :aria-label="label"
      :aria-invalid="wrong || undefined"
      @change="read"
    />
    <span v-if="wrong" class="block text-sm text-red" role="alert">Write it like 09:30.</span>
  </span>
</template>

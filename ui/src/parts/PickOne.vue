<script setup lang="ts">
import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'

/** One of many, found by typing some of its words. `blank` stands first where choosing nothing is allowed. */
const props = defineProps<{
  id?: string
  label: string
  options: { value: string; words: string }[]
  blank?: string
  placeholder?: string
  invalid?: boolean
  describedby?: string
}>()
const value = defineModel<string>({ required: true })
const typed = ref('')

// More than these nobody reads; typing a letter more finds the rest.
const MOST = 60
const all = computed(() => [...(props.blank ? [{ value: '', words: props.blank }] : []), ...props.options])
const fitting = computed(() => {
  const wanted = typed.value.trim().toLowerCase().split(/\s+/)
  return all.value.filter((option) => wanted.every((word) => option.words.toLowerCase().includes(word)))
})
const words = (key: unknown) => all.value.find((option) => option.value === key)?.words ?? ''
</script>

<template>
  <Combobox v-model="value" as="div" class="relative">
    <ComboboxInput
      :id="id"
      class="input !pr-7"
      :aria-label="id ? undefined : label"
      :aria-invalid="invalid || undefined"
      :aria-describedby="describedby"
      :placeholder="placeholder"
      autocomplete="off"
      :display-value="words"
      @change="typed = ($event.target as HTMLInputElement).value"
      @focus="($event.target as HTMLInputElement).select()"
    />
    <ComboboxButton
      class="absolute inset-y-0 right-0 px-2 text-[10px] text-muted"
      :aria-label="`All of ${label.toLowerCase()}`"
      ><span aria-hidden="true">▾</span></ComboboxButton
    >
    <ComboboxOptions class="opened max-h-64 w-full" @vue:unmounted="typed = ''">
      <ComboboxOption
        v-for="option in fitting.slice(0, MOST)"
        :key="option.value"
        v-slot="{ active, selected }"
        :value="option.value"
        as="template"
      >
        <li
          class="cursor-pointer px-2 py-[5px]"
          :class="[active ? 'bg-band-2' : '', selected ? 'font-semibold' : '', option.value ? '' : 'text-muted']"
        >
          {{ option.words }}
        </li>
      </ComboboxOption>
      <li v-if="!fitting.length" class="px-2 py-1 text-muted">Nothing has “{{ typed }}” in it.</li>
      <li v-else-if="fitting.length > MOST" class="px-2 py-1 text-muted">
        {{ fitting.length - MOST }} more; type some letters
      </li>
    </ComboboxOptions>
  </Combobox>
</template>

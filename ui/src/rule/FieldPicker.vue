<script setup lang="ts">
import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'
import type { Reference } from './model'

/** One of the fields a rule may look at, found by typing part of its name. */
const props = defineProps<{ references: Reference[]; label: string; blank?: string }>()
const value = defineModel<string | undefined>({ required: true })
const text = ref('')

const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.references
    .filter((reference) => words.every((word) => reference.label.toLowerCase().includes(word)))
    .slice(0, 60)
})
const shown = (path: unknown) =>
  props.references.find((one) => one.path === path)?.label ?? (path ? `${String(path)} (gone)` : '')
</script>

<template>
  <Combobox v-model="value" as="div" class="relative" nullable>
    <div class="relative">
      <ComboboxInput
        class="input !pr-6"
        :aria-label="label"
        :placeholder="blank ?? 'Choose a field'"
        :display-value="shown"
        autocomplete="off"
        @change="text = ($event.target as HTMLInputElement).value"
        @focus="text = ''"
      />
      <ComboboxButton
        class="absolute inset-y-0 right-0 px-2 text-[10px] text-muted"
        :aria-label="`Show fields for ${label}`"
        >▾</ComboboxButton
      >
    </div>
    <ComboboxOptions
      class="absolute left-0 z-30 mt-1 max-h-64 w-full min-w-60 overflow-auto rounded-xs border border-pine bg-paper py-1"
    >
      <ComboboxOption
        v-for="reference in found"
        :key="reference.path"
        v-slot="{ active }"
        :value="reference.path"
        as="template"
      >
        <li class="cursor-pointer px-2 py-[5px]" :class="active ? 'bg-band-2' : ''">{{ reference.label }}</li>
      </ComboboxOption>
      <li v-if="!found.length" class="px-2 py-1 text-muted">No field has these words in its name.</li>
    </ComboboxOptions>
  </Combobox>
</template>

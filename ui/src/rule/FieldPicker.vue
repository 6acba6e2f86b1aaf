<script setup lang="ts">
import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { isFormula, type Reference } from './model'

/** One of the fields a rule may look at, found by part of its name; or, where allowed, a formula typed after "=". */
const props = defineProps<{
  references: Reference[]
  label: string
  blank?: string
  formulas?: boolean
  disabled?: boolean
}>()
const value = defineModel<string | undefined>({ required: true })
const text = ref('')

const found = computed<{ path: string; label: string }[]>(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  if (props.formulas && isFormula(text.value.trim()))
    return [{ path: text.value.trim(), label: `Work out ${text.value.trim().slice(1).trim()}` }]
  return props.references
    .filter((reference) => words.every((word) => reference.label.toLowerCase().includes(word)))
    .slice(0, 60)
})
function shown(path: unknown) {
  if (!path) return ''
  const known = props.references.find((one) => one.path === path)?.label
  return known ?? (isFormula(String(path)) ? String(path) : `${String(path)} (gone)`)
}
</script>

<template>
  <Combobox v-model="value" as="div" class="relative" nullable :disabled="disabled">
    <div class="relative">
      <ComboboxInput
        class="input !pr-6"
        :aria-label="label"
        :placeholder="blank ?? (formulas ? 'Choose a field, or = and a formula' : 'Choose a field')"
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
    <ComboboxOptions class="opened max-h-64 w-full min-w-60">
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
      <li v-else-if="formulas && !text" class="border-t border-line px-2 py-1 text-sm text-muted">
        Or type = and a formula, such as = value - deposit
      </li>
    </ComboboxOptions>
  </Combobox>
</template>

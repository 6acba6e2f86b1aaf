<script setup lang="ts" generic="T extends string | number | null">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { computed } from 'vue'

/** One of several, in words. `label` is what a screen reader calls it; `strong` shows the chosen words bold. */
const props = defineProps<{
  options: { value: T; words: string }[]
  label: string
  strong?: boolean
  wide?: boolean
  blank?: string
  disabled?: boolean
  invalid?: boolean
}>()
const value = defineModel<T>({ required: true })
const chosen = computed(() => props.options.find((option) => option.value === value.value)?.words)
</script>

<template>
  <Listbox v-model="value" as="div" class="relative" :class="wide ? 'w-full' : ''" :disabled="disabled">
    <ListboxButton
      :aria-label="`${label}: ${chosen ?? blank ?? 'not chosen'}`"
      class="opener"
      :class="[wide ? 'w-full justify-between' : '', invalid ? 'border-red' : '']"
    >
      <span :class="[strong ? 'font-semibold' : '', chosen ? '' : 'text-muted']">{{
        chosen ?? blank ?? 'Choose'
      }}</span>
      <span aria-hidden="true" class="text-[10px] text-muted">▾</span>
    </ListboxButton>
    <ListboxOptions class="opened max-h-72 whitespace-nowrap outline-none">
      <ListboxOption
        v-for="option in options"
        :key="String(option.value)"
        v-slot="{ active, selected }"
        :value="option.value"
        as="template"
      >
        <li
          class="flex cursor-pointer items-center gap-2 px-2 py-[5px]"
          :class="[active ? 'bg-band-2' : '', selected ? 'font-semibold' : '']"
        >
          <span aria-hidden="true" class="w-3 text-xs">{{ selected ? '✓' : '' }}</span>{{ option.words }}
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>

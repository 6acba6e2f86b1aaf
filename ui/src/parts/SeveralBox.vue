<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { computed } from 'vue'

/** Several of some, in words. */
const props = defineProps<{
  options: { value: string; words: string }[]
  label: string
  blank?: string
  wide?: boolean
  strong?: boolean
  disabled?: boolean
}>()
const value = defineModel<string[]>({ required: true })
const chosen = computed(() =>
  value.value.map((one) => props.options.find((option) => option.value === one)?.words ?? `${one} (gone)`).join(', '),
)
</script>

<template>
  <Listbox v-model="value" multiple as="div" class="relative" :class="wide ? 'w-full' : ''" :disabled="disabled">
    <ListboxButton
      :aria-label="`${label}: ${chosen || blank || 'not chosen'}`"
      class="opener"
      :class="wide ? 'w-full justify-between' : ''"
    >
      <span :class="[chosen ? '' : 'text-muted', strong && chosen ? 'font-semibold' : '']">{{
        chosen || blank || 'Choose'
      }}</span>
      <span aria-hidden="true" class="text-[10px] text-muted">▾</span>
    </ListboxButton>
    <ListboxOptions class="opened max-h-72 whitespace-nowrap outline-none">
      <ListboxOption
        v-for="option in options"
        :key="option.value"
        v-slot="{ active, selected }"
        :value="option.value"
        as="template"
      >
        <li class="flex cursor-pointer items-center gap-2 px-2 py-[5px]" :class="active ? 'bg-band-2' : ''">
          <span
            aria-hidden="true"
            class="grid size-[14px] place-items-center border border-pine text-[10px]"
            :class="selected ? 'bg-pine text-white' : 'bg-paper'"
            >{{ selected ? '✓' : '' }}</span>{{ option.words }}
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>

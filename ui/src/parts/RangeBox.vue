<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Field } from '@/state/setup'

/** From and to of a number or date, for filtering a list. */
const props = defineProps<{ field: Field; from: string; to: string }>()
const emit = defineEmits<{ change: [from: string, to: string] }>()
const type = computed(() => (['date', 'datetime'].includes(props.field.type) ? 'date' : 'text'))
const said = computed(() => {
  if (props.from && props.to) return `${props.field.label} ${props.from} to ${props.to}`
  if (props.from) return `${props.field.label} from ${props.from}`
  return props.to ? `${props.field.label} up to ${props.to}` : props.field.label
})
const value = (event: Event) => (event.target as HTMLInputElement).value.trim()
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="opener" :class="from || to ? 'font-semibold' : 'text-muted'"
      >{{ said }} <span aria-hidden="true" class="text-[10px] text-muted">▾</span></PopoverButton
    >
    <PopoverPanel class="absolute left-0 z-30 mt-1 grid w-52 gap-2 rounded-xs border border-pine bg-paper p-2">
      <label
        ><span class="lab">From</span
        ><input
          class="input"
          :type="type"
          :value="from"
          :aria-label="`${field.label} from`"
          @change="emit('change', value($event), to)"
      /></label>
      <label
        ><span class="lab">To</span
        ><input
          class="input"
          :type="type"
          :value="to"
          :aria-label="`${field.label} to`"
          @change="emit('change', from, value($event))"
      /></label>
    </PopoverPanel>
  </Popover>
</template>

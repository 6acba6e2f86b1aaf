<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Field } from '@/state/setup'

/** From and to of a number or date, for filtering a list. */
const props = defineProps<{ field: Field; from: string; to: string; filled: string }>()
const emit = defineEmits<{ change: [from: string, to: string]; filled: [which: string] }>()
const type = computed(() => (['date', 'datetime'].includes(props.field.type) ? 'date' : 'text'))
const said = computed(() => {
  if (props.filled) return `${props.field.label} is ${props.filled === 'empty' ? 'empty' : 'filled in'}`
  if (props.from && props.to) return `${props.field.label} ${props.from} to ${props.to}`
  if (props.from) return `${props.field.label} from ${props.from}`
  return props.to ? `${props.field.label} up to ${props.to}` : props.field.label
})
const value = (event: Event) => (event.target as HTMLInputElement).value.trim()
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="opener" :class="from || to || filled ? 'font-semibold' : 'text-muted'"
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
      <label v-for="which in ['filled', 'empty']" :key="which" class="flex items-center gap-2">
        <input type="checkbox" :checked="filled === which" @change="emit('filled', filled === which ? '' : which)" />
        it is {{ which === 'empty' ? 'empty' : 'filled in' }}
      </label>
    </PopoverPanel>
  </Popover>
</template>

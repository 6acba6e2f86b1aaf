<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import type { Field } from '@/state/setup'

/** Narrows a list by a text, an address, a phone or a link: what stands in it, or whether anything does. */
const props = defineProps<{ field: Field; holds: string; filled: string; link: string }>()
const emit = defineEmits<{ holds: [words: string]; filled: [which: string]; link: [id: string] }>()
const said = computed(() => {
  const name = props.field.label
  if (props.filled) return props.filled === 'empty' ? `${name} is empty` : `${name} is filled in`
  if (props.holds) return `${name}: ${props.holds}`
  return props.link ? `${name}: record ${props.link}` : name
})
const words = computed(() => (props.field.type === 'phone' ? 'Digits of it' : 'Words in it'))
const value = (event: Event) => (event.target as HTMLInputElement).value.trim()
const WHICH = [
  { key: '', words: 'whatever it is' },
  { key: 'filled', words: 'it is filled in' },
  { key: 'empty', words: 'it is empty' },
]
const can = computed(() => ['text', 'long_text', 'email', 'phone', 'url'].includes(props.field.type))
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="opener" :class="said === field.label ? 'text-muted' : 'font-semibold'"
      >{{ said }} <span aria-hidden="true" class="text-[10px] text-muted">▾</span></PopoverButton
    >
    <PopoverPanel class="absolute left-0 z-30 mt-1 grid w-64 gap-2 rounded-xs border border-pine bg-paper p-2">
      <label v-if="can"
        ><span class="lab">{{ words }}</span
        ><input
          class="input"
          :value="holds"
          :aria-label="`${field.label}: ${words.toLowerCase()}`"
          @change="emit('holds', value($event))"
      /></label>
      <RecordPicker
        v-if="field.type === 'link'"
        :model-value="link ? Number(link) : null"
        :kind="field.links_to"
        :label="`${field.label} is`"
        @update:model-value="(id) => emit('link', id ? String(id) : '')"
      />
      <fieldset>
        <legend class="sr-only">{{ field.label }}</legend>
        <label v-for="one in WHICH" :key="one.key" class="flex items-center gap-2 py-[3px]">
          <input
            type="radio"
            :name="`is-${field.key}`"
            :checked="filled === one.key"
            @change="emit('filled', one.key)"
          />{{ one.words }}
        </label>
      </fieldset>
    </PopoverPanel>
  </Popover>
</template>

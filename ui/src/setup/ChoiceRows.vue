<script setup lang="ts">
import { moved } from '@/rule/model'
import UsesNote from './UsesNote.vue'
import { ref } from 'vue'

/** Choices, stages or sections in order: their words, added, moved, taken away. New ones have no key yet. */
type Row = { key?: string | null; label: string }
const props = defineProps<{ label: string; uses?: string; wrong?: string }>()
const rows = defineModel<Row[]>({ required: true })
const going = ref<Row | null>(null)
const word = (index: number, label: string) =>
  (rows.value = rows.value.map((row, place) => (place === index ? { ...row, label } : row)))
function remove(index: number) {
  const row = rows.value[index]!
  // What rules may lean on is asked about once before it goes.
  if (row.key && props.uses && going.value !== row) {
    going.value = row
    return
  }
  going.value = null
  rows.value = rows.value.filter((_, place) => place !== index)
}
</script>

<template>
  <fieldset class="mb-3">
    <legend class="lab mb-1">{{ label }}</legend>
    <p v-if="wrong" class="mb-1 text-sm text-red" role="alert">{{ wrong }}</p>
    <div v-for="(row, index) in rows" :key="row.key ?? `new${index}`" class="mb-1">
      <div class="flex flex-wrap items-center gap-x-2 gap-y-1">
        <span class="w-5 text-right font-mono text-xs text-muted">{{ index + 1 }}</span>
        <input
          class="input !w-auto min-w-0 flex-1 sm:!w-60 sm:flex-none"
          :value="row.label"
          :aria-label="`${label} ${index + 1}`"
          maxlength="60"
          @input="word(index, ($event.target as HTMLInputElement).value)"
        />
        <button
          type="button"
          class="step"
          :aria-label="`Move ${row.label || 'it'} up`"
          :disabled="index === 0"
          @click="rows = moved(rows, index, -1)"
        >
          ↑
        </button>
        <button
          type="button"
          class="step"
          :aria-label="`Move ${row.label || 'it'} down`"
          :disabled="index === rows.length - 1"
          @click="rows = moved(rows, index, 1)"
        >
          ↓
        </button>
        <button type="button" class="link text-sm" @click="remove(index)">
          {{ going === row ? 'Take it away all the same' : 'Take away' }}
        </button>
      </div>
      <UsesNote
        v-if="going === row"
        class="mt-1 ml-7"
        :of="`${uses} ${row.key}`"
        doing="They will not run right without it."
      />
    </div>
    <button type="button" class="link" @click="rows = [...rows, { label: '' }]">Add one</button>
  </fieldset>
</template>

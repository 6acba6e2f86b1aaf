<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Days on which somebody is away, each with the first and the last. */
const props = defineProps<{ today: string; wrong?: string }>()
const rows = defineModel<Schemas['Absence'][]>({ required: true })
const change = (index: number, changes: Partial<Schemas['Absence']>) =>
  (rows.value = rows.value.map((one, place) => (place === index ? { ...one, ...changes } : one)))
</script>

<template>
  <fieldset class="mb-3">
    <legend class="lab mb-1">Away</legend>
    <div v-for="(one, index) in rows" :key="index" class="mb-1 flex flex-wrap items-center gap-2">
      <input
        type="date"
        class="input !w-36"
        :value="one.from"
        :aria-label="`Away from, ${index + 1}`"
        @change="change(index, { from: ($event.target as HTMLInputElement).value })"
      />
      to
      <input
        type="date"
        class="input !w-36"
        :value="one.to"
        :aria-label="`Away to, ${index + 1}`"
        @change="change(index, { to: ($event.target as HTMLInputElement).value })"
      />
      <button type="button" class="link text-sm" @click="rows = rows.filter((_, place) => place !== index)">
        Take away
      </button>
    </div>
    <p v-if="props.wrong" class="text-sm text-red" role="alert">{{ props.wrong }}</p>
    <button type="button" class="link" @click="rows = [...rows, { from: today, to: today }]">Add days away</button>
  </fieldset>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import { useSetup } from '@/state/setup'
import KeptAway from './KeptAway.vue'
import { kindWords } from './types'

/** Texts or papers of the set-up: each with the records it is for and what takes it, and those that were taken away. */
const props = defineProps<{ rows: Schemas['Kept'][]; noun: string; busy: boolean }>()
const emit = defineEmits<{ open: [key: string]; back: [row: Schemas['Kept']] }>()
const { kindOf } = useSetup()
const FORMS = { markdown: 'written here, PDF', docx: 'uploaded, DOCX', odt: 'uploaded, ODT' } as const
const used = computed(() => props.rows.filter((one) => !one.retired_at))
const away = computed(() => props.rows.filter((one) => one.retired_at))
const bringBack = (row: { key: string }) =>
  emit(
    'back',
    away.value.find((one) => one.key === row.key)!,
  )
const takers = (row: Schemas['Kept']) =>
  row.leans.length ? counted(row.leans.length, 'rule or kit', 'rules and kits') : 'nothing yet'
</script>

<template>
  <div v-if="used.length" class="overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>Name</th>
          <th>Filled in from</th>
          <th v-if="noun === 'paper'">What it is</th>
          <th>Version</th>
          <th>Taken by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in used" :key="one.key" class="cursor-pointer" @click="emit('open', one.key)">
          <td>
            <button type="button" class="text-left font-semibold hover:underline">{{ one.name }}</button>
          </td>
          <td>{{ kindWords(one.kind, kindOf(one.kind)) }}</td>
          <td v-if="noun === 'paper'">{{ FORMS[one.form ?? 'markdown'] }}</td>
          <td>{{ one.number }}</td>
          <td class="text-muted">{{ takers(one) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else class="text-muted"><slot name="none" /></p>
  <KeptAway :rows="away" :busy="busy" @back="bringBack" />
</template>

<script setup lang="ts">
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** Changes of many records that one has begun, the newest first. */
const { kindOf } = useSetup()
const { moment } = useDates()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/bulk', {})))
const STATES: Record<Schemas['BulkChange']['state'], string> = {
  running: 'under way',
  stopped: 'stopped',
  done: 'done',
  undoing: 'being undone',
  undone: 'undone',
  undone_partly: 'undone in part',
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Many at once</h1>
    <span class="text-muted">What you have changed of many records together. It is undone as one within 7 days.</span>
  </div>
  <TroubleBox v-if="error && !data" :text="error" class="m-5" @retry="reload" />
  <div v-else-if="data" class="overflow-x-auto p-3 sm:p-5">
    <table v-if="data.changes.length" class="ledger">
      <thead>
        <tr>
          <th>What</th>
          <th>Of</th>
          <th class="!text-right">Records</th>
          <th class="!text-right">Changed</th>
          <th class="!text-right">Refused</th>
          <th>State</th>
          <th>Begun</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.changes" :key="one.id">
          <td>
            <RouterLink :to="`/bulk/${one.id}`" class="font-semibold">{{ one.words }}</RouterLink>
          </td>
          <td>{{ kindOf(one.kind)?.plural ?? one.kind }}</td>
          <td class="text-right">{{ one.total.toLocaleString('en-GB') }}</td>
          <td class="text-right">{{ one.changed.toLocaleString('en-GB') }}</td>
          <td class="text-right">{{ one.refused.toLocaleString('en-GB') }}</td>
          <td>{{ STATES[one.state] }}</td>
          <td class="whitespace-nowrap">{{ moment(one.at) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="text-muted">Nothing within the last week. Choose records in a list to change them together.</p>
  </div>
</template>

<script setup lang="ts">
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** Tables that whoever looks has brought in, the newest first: to go on with, or to take back. */
const { moment } = useDates()
const { kindOf } = useSetup()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/imports')))
const STATES = {
  read: 'not looked at yet',
  looking: 'is being looked at',
  looked: 'looked at, not brought in yet',
  running: 'is being brought in',
  stopped: 'stopped on the way',
  done: 'brought in',
  undoing: 'is being taken back',
  undone: 'taken back',
  undone_partly: 'taken back in part',
} as const
const many = (one: Schemas['Import']) =>
  one.written
    ? `${one.written.made.toLocaleString('en-GB')} made, ${one.written.changed.toLocaleString('en-GB')} changed`
    : ''
</script>

<template>
  <div class="border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Tables brought in</h1>
  </div>
  <TroubleBox v-if="error && !data" :text="error" class="m-5" @retry="reload" />
  <div v-else-if="data" class="overflow-x-auto p-3 sm:p-5">
    <table v-if="data.tables.length" class="ledger">
      <thead>
        <tr>
          <th>Table</th>
          <th>Becomes</th>
          <th>Given</th>
          <th>State</th>
          <th>Written</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.tables" :key="one.id">
          <td>
            <RouterLink :to="`/table/${one.id}`" class="font-semibold break-all">{{ one.name }}</RouterLink>
          </td>
          <td>{{ kindOf(one.kind)?.plural ?? 'a list that was taken away' }}</td>
          <td class="whitespace-nowrap">{{ moment(one.at) }}</td>
          <td>{{ STATES[one.state] }}{{ one.forgotten ? ', and forgotten' : '' }}</td>
          <td>{{ many(one) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="text-muted">
      You have brought in no table yet. On a list, press <b class="font-semibold">Bring in CSV</b>.
    </p>
  </div>
</template>

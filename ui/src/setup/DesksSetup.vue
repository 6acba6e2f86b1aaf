<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import DeskDialog from './DeskDialog.vue'
import { ORDER_WORDS } from './types'
import { useChange } from './useChange'

/** Teams with who is in them, and queues with what they take. */
type Desks = Schemas['Desks']
const { setup, nameOf, kindOf } = useSetup()
const { busy, send, wrong } = useChange()
const { say } = useNotices()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/setup/desks')), [setup])

const teams = computed(() => data.value?.teams.filter((one) => !one.retired_at) ?? [])
const queues = computed(() => data.value?.queues.filter((one) => !one.retired_at) ?? [])
const retired = computed(() => [
  ...(data.value?.teams.filter((one) => one.retired_at).map((one) => ({ ...one, what: 'teams' as const })) ?? []),
  ...(data.value?.queues.filter((one) => one.retired_at).map((one) => ({ ...one, what: 'queues' as const })) ?? []),
])
const teamName = (key: string) => data.value?.teams.find((one) => one.key === key)?.name ?? key
const empty = (team: string) => !data.value?.teams.find((one) => one.key === team)?.members.length
const takes = (queue: Desks['queues'][number]) =>
  queue.kinds ? queue.kinds.map((key) => kindOf(key)?.plural ?? `${key} (taken away)`).join(', ') : 'everything'

const open = ref(false)
const what = ref<'team' | 'queue'>('team')
const key = ref<string | null>(null)
function edit(kind: 'team' | 'queue', of: string | null) {
  what.value = kind
  key.value = of
  open.value = true
}
async function bringBack(one: { what: 'teams' | 'queues'; key: string; name: string }) {
  const body = { what: one.what, key: one.key }
  if (await send(() => answerOf(api.POST('/api/setup/desks/back', { body })))) say(`${one.name} is back.`)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <template v-if="data">
    <section class="mb-8">
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Teams</h2>
        <button type="button" class="btn btn-go" @click="edit('team', null)">New team</button>
      </div>
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>Who is in it</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="team in teams" :key="team.key" class="cursor-pointer" @click="edit('team', team.key)">
            <td class="w-48">
              <button type="button" class="text-left font-semibold hover:underline">{{ team.name }}</button>
            </td>
            <td>
              {{ team.members.map(nameOf).join(', ')
              }}<span v-if="!team.members.length" class="text-muted">nobody; put people in it under People</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!teams.length" class="p-3 text-muted">No team yet. Work is given to teams, and each queue has one.</p>
    </section>
    <section class="mb-8">
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Queues</h2>
        <button v-if="teams.length" type="button" class="btn btn-go" @click="edit('queue', null)">New queue</button>
      </div>
      <div class="overflow-x-auto">
        <table class="ledger">
          <thead>
            <tr>
              <th>Name</th>
              <th>Taken from by</th>
              <th>Takes tasks about</th>
              <th class="hidden sm:table-cell">Next is</th>
              <th class="text-right">Waiting</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="queue in queues" :key="queue.key" class="cursor-pointer" @click="edit('queue', queue.key)">
              <td class="sm:w-48">
                <button type="button" class="text-left font-semibold hover:underline">{{ queue.name }}</button>
              </td>
              <td>
                {{ teamName(queue.team) }}
                <span v-if="empty(queue.team)" class="flag ml-1 bg-amber-bg text-amber">nobody is in it</span>
              </td>
              <td>{{ takes(queue) }}</td>
              <td class="hidden sm:table-cell">{{ ORDER_WORDS[queue.order] }}</td>
              <td class="text-right font-mono">{{ queue.waiting }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
    <section v-if="retired.length">
      <h2 class="mb-1 text-lg font-semibold">Retired</h2>
      <p v-if="wrong.queue ?? wrong.name ?? wrong['']" class="text-red" role="alert">
        {{ wrong.queue ?? wrong.name ?? wrong[''] }}
      </p>
      <ul class="max-w-xl">
        <li v-for="one in retired" :key="one.what + one.key" class="flex items-center gap-3 border-b border-line py-1">
          <span class="font-semibold">{{ one.name }}</span>
          <span class="text-sm text-muted">{{ one.what === 'teams' ? 'team' : 'queue' }}</span>
          <button
            type="button"
            class="btn ml-auto"
            :aria-busy="busy"
            :aria-label="`Bring back ${one.name}`"
            @click="bringBack(one)"
          >
            Bring back
          </button>
        </li>
      </ul>
    </section>
    <DeskDialog :open="open" :what="what" :of="key" :desks="data" @close="open = false" />
  </template>
</template>

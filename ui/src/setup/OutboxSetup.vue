<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import HouseMail from './HouseMail.vue'
import MessageDialog from './MessageDialog.vue'
import { MESSAGE_STATES, WAY_WORDS, type MessageState } from './types'
import { useChange } from './useChange'

/** What leaves the house, the newest first: each message with how it fares, and from which address mail is sent. */
const route = useRoute()
const { moment } = useDates()
const { now } = useSetup()
const { say } = useNotices()
const { wrong, busy, send } = useChange()
const state = ref<MessageState | ''>('')
const destination = ref('')
const from = ref('')
const till = ref('')
const page = ref<Schemas['OutboxPage'] | null>(null)
const rows = ref<Schemas['Message'][]>([])
const trouble = ref('')
/** Of one rule, record or run, where the address of the page says so. */
const narrowed = computed(() =>
  Object.fromEntries(
    (['rule', 'record', 'run'] as const).flatMap((name) =>
      typeof route.query[name] === 'string' ? [[name, route.query[name] as string]] : [],
    ),
  ),
)
const about = computed(
  () => rows.value[0] && (narrowed.value.rule ? rows.value[0].rule?.name : rows.value[0].record?.title),
)

let turn = 0
async function read(before?: number) {
  const mine = ++turn
  trouble.value = ''
  try {
    const chosen = { state: state.value, destination: destination.value, from: from.value, till: till.value }
    const given = Object.fromEntries(Object.entries(chosen).filter(([, value]) => value))
    const query = { ...narrowed.value, ...given, ...(before ? { before: String(before) } : {}) }
    const found = await answerOf(api.GET('/api/outbox', { params: { query } }))
    if (mine !== turn) return
    page.value = found
    rows.value = before ? [...rows.value, ...found.messages] : found.messages
  } catch (problem) {
    if (mine === turn) trouble.value = sentenceOf(problem)
  }
}
watch([state, destination, from, till, narrowed], () => void read(), { immediate: true })
useLive(() => rows.value.length <= 50 && void read())
/** What is about to leave, or was tried lately, is looked at again and again. */
const SOON = 180_000
const soon = (row: Schemas['Message']) => row.state === 'waiting' && Date.parse(row.due_at) - now().getTime() < SOON
const timer = window.setInterval(() => {
  const moves = rows.value.some(soon) || !!page.value?.counts.waiting
  if (!document.hidden && rows.value.length <= 50 && moves) void read()
}, 3000)
onUnmounted(() => window.clearInterval(timer))

const states = [
  { value: '' as const, words: 'everything' },
  ...(Object.keys(MESSAGE_STATES) as MessageState[]).map((value) => ({ value, words: MESSAGE_STATES[value] })),
]
const destinations = computed(() => [
  { value: '', words: 'everywhere' },
  ...(page.value?.destinations ?? []).map((one) => ({ value: one.destination, words: one.name })),
])
const failed = computed(() => (page.value?.destinations ?? []).filter((one) => one.failed))
async function allAgain(one: { destination: string; name: string }) {
  await send(async () => {
    const { again } = await answerOf(api.POST('/api/outbox/again', { body: { destination: one.destination } }))
    say(`${counted(again, 'message goes', 'messages go')} to the ${one.name} once more.`)
  })
  await read()
}
const opened = ref<number | null>(null)
</script>

<template>
  <TroubleBox v-if="trouble" :text="trouble" @retry="read()" />
  <template v-if="page">
    <HouseMail :page="page" @changed="read()" />
    <p v-if="page.stand_ins" class="mb-2">
      This is a demo: all that leaves comes to <RouterLink to="/stand-ins">stand-ins</RouterLink> and goes no further.
    </p>
    <p v-for="one in page.resting" :key="one.destination" class="mb-2 border border-amber bg-amber-bg px-3 py-2">
      The {{ one.name }} did not take {{ counted(one.failures, 'message') }} in a row, so it rests. It is tried once a
      minute, and all that waits goes when it answers.
    </p>
    <p
      v-for="one in failed"
      :key="one.destination"
      class="mb-2 flex flex-wrap items-center gap-3 border border-line px-3 py-2"
    >
      {{ counted(one.failed, 'message') }} to the {{ one.name }} could not be delivered.
      <button type="button" class="btn" :aria-busy="busy" @click="allAgain(one)">
        {{ one.failed === 1 ? 'Send it again' : 'Send them all again' }}
      </button>
    </p>
    <p v-if="wrong['']" class="mb-2 text-red" role="alert">{{ wrong[''] }}</p>
    <div class="mb-2 flex flex-wrap items-center gap-3">
      <SelectBox v-model="state" :options="states" label="State" />
      <SelectBox v-model="destination" :options="destinations" label="Where to" />
      <label class="flex items-center gap-1"
        ><span class="text-muted">from</span><input v-model="from" type="date" class="input !w-auto"
      /></label>
      <label class="flex items-center gap-1"
        ><span class="text-muted">to</span><input v-model="till" type="date" class="input !w-auto"
      /></label>
      <span class="text-muted">{{
        (Object.keys(MESSAGE_STATES) as MessageState[])
          .filter((one) => page!.counts[one])
          .map((one) => `${page!.counts[one]} ${MESSAGE_STATES[one]}`)
          .join(' · ')
      }}</span>
    </div>
    <p v-if="Object.keys(narrowed).length" class="mb-2">
      Only what {{ narrowed.rule ? 'the rule' : narrowed.run ? 'that run on' : 'rules on' }}
      <b v-if="about" class="font-semibold">{{ about }}</b> wrote.
      <RouterLink to="/setup/outbox">Show everything</RouterLink>
    </p>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Written</th>
            <th>Way</th>
            <th>To</th>
            <th>What</th>
            <th class="hidden lg:table-cell">By</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id" class="cursor-pointer" @click="opened = row.id">
            <td class="whitespace-nowrap">{{ moment(row.made_at) }}</td>
            <td>{{ WAY_WORDS[row.way] ?? row.way }}</td>
            <td class="min-w-[11rem] break-words">{{ row.to }}</td>
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ row.subject }}</button>
            </td>
            <td class="hidden lg:table-cell">
              <RouterLink v-if="row.rule" :to="`/rules/${row.rule.id}`" @click.stop>{{ row.rule.name }}</RouterLink>
              <template v-else>the house</template>
            </td>
            <td>
              <span :class="row.state === 'failed' || row.back_at ? 'font-semibold text-red' : ''">{{
                MESSAGE_STATES[row.back_at ? 'back' : row.state]
              }}</span>
              <span v-if="row.state === 'waiting'" class="text-muted">
                <template v-if="row.tries"> · {{ counted(row.tries, 'try', 'tries') }}, next</template
                ><template v-else> until</template> {{ moment(row.due_at) }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
      <button v-if="page.more" type="button" class="btn mt-3" @click="read(rows.at(-1)!.id)">Show earlier</button>
    </div>
    <p v-else class="text-muted">
      Nothing has left the house{{
        state || destination || from || till || Object.keys(narrowed).length ? ' like that' : ' yet'
      }}.
    </p>
    <MessageDialog :id="opened" @close="opened = null" @changed="read()" />
  </template>
</template>

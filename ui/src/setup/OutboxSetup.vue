<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import MessageDialog from './MessageDialog.vue'
import { MESSAGE_STATES, type MessageState } from './types'
import { useChange } from './useChange'

/** What leaves the house, the newest first: each message with how it fares, and from which address mail is sent. */
const { moment } = useDates()
const { say } = useNotices()
const { wrong, busy, send } = useChange()
const state = ref<MessageState | ''>('')
const page = ref<Schemas['OutboxPage'] | null>(null)
const rows = ref<Schemas['Message'][]>([])
const from = ref('')
const trouble = ref('')

let turn = 0
async function read(before?: number) {
  const mine = ++turn
  trouble.value = ''
  try {
    const query = { ...(state.value ? { state: state.value } : {}), ...(before ? { before } : {}) }
    const found = await answerOf(api.GET('/api/outbox', { params: { query } }))
    if (mine !== turn) return
    if (!page.value) from.value = found.from ?? ''
    page.value = found
    rows.value = before ? [...rows.value, ...found.messages] : found.messages
  } catch (problem) {
    if (mine === turn) trouble.value = sentenceOf(problem)
  }
}
watch(state, () => void read(), { immediate: true })

const states = [
  { value: '' as const, words: 'everything' },
  ...(Object.keys(MESSAGE_STATES) as MessageState[]).map((value) => ({ value, words: MESSAGE_STATES[value] })),
]
async function saveFrom() {
  const body = { from: from.value.trim() || null }
  if (!(await send(() => answerOf(api.PUT('/api/outbox/from', { body }))))) return
  say(body.from ? `Mail is sent from ${body.from}.` : 'The house sends no mail.')
  await read()
}
async function tryMail() {
  if (!(await send(() => answerOf(api.POST('/api/outbox/try', {}))))) return
  say('A mail to you is on its way.')
  await read()
}
const opened = ref<number | null>(null)
</script>

<template>
  <TroubleBox v-if="trouble && !page" :text="trouble" @retry="read()" />
  <template v-if="page">
    <form class="mb-4 max-w-xl" @submit.prevent="saveFrom">
      <FormRow
        v-slot="{ id, describedby }"
        label="Mail is sent from"
        :wrong="wrong.from ?? wrong['']"
        hint="An address of the house. Invitations and links for a new password go by mail then."
        ><input :id="id" v-model="from" type="email" class="input" maxlength="200" :aria-describedby="describedby"
      /></FormRow>
      <div class="flex flex-wrap gap-2">
        <button type="submit" class="btn" :aria-busy="busy">Save the address</button>
        <button v-if="!page.missing" type="button" class="btn btn-quiet" :aria-busy="busy" @click="tryMail">
          Send a mail to me
        </button>
      </div>
      <p v-if="page.missing" class="mt-2 text-amber">{{ page.missing }}</p>
    </form>
    <p v-for="one in page.resting" :key="one.destination" class="mb-2 border border-amber bg-amber-bg px-3 py-2">
      The {{ one.destination }} did not take {{ counted(one.failures, 'message') }} in a row, so it rests. It is tried
      once a minute, and all that waits goes when it answers.
    </p>
    <div class="mb-2 flex flex-wrap items-center gap-3">
      <SelectBox v-model="state" :options="states" label="State" />
      <span class="text-muted">{{
        (Object.keys(MESSAGE_STATES) as MessageState[])
          .filter((one) => page!.counts[one])
          .map((one) => `${page!.counts[one]} ${MESSAGE_STATES[one]}`)
          .join(' · ')
      }}</span>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Written</th>
            <th>To</th>
            <th>What</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id" class="cursor-pointer" @click="opened = row.id">
            <td class="whitespace-nowrap">{{ moment(row.made_at) }}</td>
            <td class="min-w-[11rem] break-words">{{ row.to }}</td>
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ row.subject }}</button>
            </td>
            <td>
              <span :class="row.state === 'failed' ? 'font-semibold text-red' : ''">{{
                MESSAGE_STATES[row.state]
              }}</span>
              <span v-if="row.state === 'waiting' && row.tries" class="text-muted">
                · {{ counted(row.tries, 'try', 'tries') }}, next {{ moment(row.due_at) }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
      <button v-if="page.more" type="button" class="btn mt-3" @click="read(rows.at(-1)!.id)">Show earlier</button>
    </div>
    <p v-else class="text-muted">Nothing has left the house{{ state ? ' like that' : ' yet' }}.</p>
    <MessageDialog :id="opened" @close="opened = null" @changed="read()" />
  </template>
</template>

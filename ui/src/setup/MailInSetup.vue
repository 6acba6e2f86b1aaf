<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import FormRow from '@/parts/FormRow.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import KeptAway from './KeptAway.vue'
import LetterList from './LetterList.vue'
import MailDoorSheet from './MailDoorSheet.vue'
import NewKeptDialog from './NewKeptDialog.vue'
import { useSheetList } from './useSheetList'

/** Addresses of the house to which people write, what came in by mail, and addresses from which mail came back. */
const { setup, kindOf } = useSetup()
const { moment } = useDates()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/mail-doors')), [setup])
const { wrong, busy, send, say, open, go, used, away, adding, bringBack } = useSheetList(
  () => data.value?.doors,
  (key) => answerOf(api.POST('/api/mail-doors/back', { body: { key } })),
  ' It stays shut until you open it.',
)
const address = ref('')
function begin() {
  address.value = ''
  adding.value = true
}
async function make(given: { name: string; kind: string }) {
  const made = await answerOf(api.POST('/api/mail-doors', { body: { ...given, address: address.value } }))
  adding.value = false
  await go(made.key!)
}
async function takeAnswers(event: Event) {
  const answers = (event.target as HTMLInputElement).checked
  const done = await send(() => answerOf(api.PUT('/api/mail-doors/answers', { body: { answers } })))
  if (done)
    say(answers ? 'From now on mails of the house are answered to Yenvo.' : 'Mails of the house are answered to it.')
  await reload()
}
async function works(one: { address: string }) {
  const done = await send(() => answerOf(api.POST('/api/mail-doors/works', { body: { address: one.address } })))
  if (done) say(`Nobody is warned about ${one.address} any more.`)
  await reload()
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <MailDoorSheet v-if="open" :key="open" :door-key="open" @close="go(null)" />
  <template v-else-if="data">
    <div class="mb-2 flex items-center gap-3">
      <h2 class="text-lg font-semibold">Mail that comes in</h2>
      <button type="button" class="btn btn-go" @click="begin">New address</button>
    </div>
    <p class="mb-2 max-w-xl text-muted">
      An answer to a mail of the house lands on the record that it was about. Any other mail becomes what its address is
      for. The mail server hands each on to <code class="font-mono text-sm">bin/yenvo mail --to ADDRESS</code>.
    </p>
    <label class="mb-4 flex max-w-xl items-start gap-2">
      <input type="checkbox" class="mt-1" :checked="data.answers" :disabled="busy" @change="takeAnswers" />
      <span
        >Mails about records ask for answers to Yenvo
        <span class="block text-sm text-muted"
          >Each then has an address of its own to answer to, such as
          <span class="break-all">{{ (data.from ?? 'yard@example.org').replace('@', '+m2s-…@') }}</span>. Without this
          an answer is known by the mail that it names.</span
        ></span
      >
    </label>
    <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
    <div v-if="used.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>Address</th>
            <th>Becomes</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in used" :key="one.key" class="cursor-pointer" @click="go(one.key)">
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ one.name }}</button>
            </td>
            <td class="break-all">{{ one.address }}</td>
            <td>{{ kindOf(one.kind)?.plural ?? 'a list that was taken away' }}</td>
            <td>{{ one.open ? 'open' : 'shut' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="text-muted">No address yet. Answers come in all the same; nothing else does.</p>
    <section v-if="data.returned.length" class="mt-6" aria-label="Addresses from which mail came back">
      <h3 class="mb-1">Addresses from which mail came back</h3>
      <ul>
        <li
          v-for="one in data.returned"
          :key="one.address"
          class="flex flex-wrap items-center gap-x-3 border-b border-line py-1"
        >
          <b class="font-semibold break-all">{{ one.address }}</b>
          <span class="min-w-0 flex-1 break-words text-muted"
            >{{ moment(one.at) }}: {{ one.words.replace(`${one.address}: `, '') }}</span
          >
          <button type="button" class="btn btn-quiet" :aria-busy="busy" @click="works(one)">It works again</button>
        </li>
      </ul>
    </section>
    <LetterList />
    <KeptAway :rows="away" :busy="busy" @back="bringBack" />
  </template>
  <NewKeptDialog :open="adding" title="New address" :make="make" @close="adding = false">
    <template #default="{ wrong: at }">
      <FormRow
        v-slot="{ id, describedby }"
        label="Address to which people write"
        :wrong="at.address"
        hint="The mail server has to hand on what is sent there."
        ><input :id="id" v-model="address" type="email" class="input" maxlength="190" :aria-describedby="describedby"
      /></FormRow>
    </template>
  </NewKeptDialog>
</template>

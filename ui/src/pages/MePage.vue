<script setup lang="ts">
import Bowser from 'bowser'
import { computed, defineAsyncComponent, ref } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { useTyped } from '@/lib/useTyped'
import { wrongAt } from '@/lib/wrongAt'
import AbsenceRows from '@/parts/AbsenceRows.vue'
import FormRow from '@/parts/FormRow.vue'
import NewPassword from '@/parts/NewPassword.vue'
import OwnCalendar from '@/parts/OwnCalendar.vue'
import PickOne from '@/parts/PickOne.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TokenDialog from '@/parts/TokenDialog.vue'
import TokenList from '@/parts/TokenList.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { loadSetup, useSetup } from '@/state/setup'

/** What belongs to whoever is signed in: name, zone, days away, what they are told, and how they sign in. */
const { person, load } = useSession()
const { setup } = useSetup()
const { say, attempt } = useNotices()
const { moment } = useDates()

const form = ref({ now: '', next: '' })
const wrong = ref('')
const busy = ref(false)
async function change() {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    const body = { password: form.value.now, 'new-password': form.value.next }
    await answerOf(api.POST('/api/change-password', { body }))
    form.value = { now: '', next: '' }
    say('Your password is changed. All your other sessions have ended.')
    void reload()
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}

// What is about oneself is saved part by part.
const { data: me, reload: readMe } = useLoaded(() => answerOf(api.GET('/api/me')))
const {
  typed: mine,
  changed,
  take,
} = useTyped(() =>
  me.value
    ? { name: me.value.name, phone: me.value.phone ?? '', zone: me.value.zone ?? '', absences: me.value.absences }
    : null,
)
const wrongOf = ref<Record<string, string>>({})
async function saveMe() {
  wrongOf.value = {}
  try {
    const body = { ...mine.value!, phone: mine.value!.phone || null, zone: mine.value!.zone || null }
    me.value = await answerOf(api.PUT('/api/me', { body }))
    await take()
    await Promise.all([load(), loadSetup()])
    say('Saved.')
  } catch (problem) {
    wrongOf.value = wrongAt(problem, ['name', 'phone', 'zone', 'absences'])
  }
}
const TELLING = [
  { value: 'bell', words: 'in the bell' },
  { value: 'mail', words: 'there and by mail at once' },
  { value: 'daily', words: 'there and in the daily mail' },
  { value: 'none', words: 'not at all' },
] as const
type Way = (typeof TELLING)[number]['value']
const tell = (key: string, way: Way) =>
  attempt(async () => {
    const told = Object.fromEntries(me.value!.tell.map((one) => [one.key, one.key === key ? way : one.way]))
    me.value = await answerOf(api.PUT('/api/me', { body: { told } }))
  }, 'Saved.')
const zones = computed(() => (me.value?.zones ?? []).map((value) => ({ value, words: value.replace(/_/g, ' ') })))

const SecondStepSetup = defineAsyncComponent(() => import('@/parts/SecondStepSetup.vue'))
const RecoveryCodes = defineAsyncComponent(() => import('@/parts/RecoveryCodes.vue'))
const step = ref<'' | 'set_up' | 'codes' | 'end'>('')
const stepPassword = ref('')
const stepWrong = ref('')
const codes = ref<string[] | null>(null)
function turnTo(next: typeof step.value) {
  step.value = next
  stepPassword.value = stepWrong.value = ''
  codes.value = null
}
async function doStep() {
  stepWrong.value = ''
  try {
    const body = { password: stepPassword.value }
    if (step.value === 'end') {
      await answerOf(api.POST('/api/otp-disable', { body }))
      say('You sign in with your password alone now.')
      await stepDone()
    } else
      codes.value = (await answerOf(api.POST('/api/recovery-codes', { body: { ...body, add: 'yes' } }))).codes ?? []
  } catch (problem) {
    stepWrong.value = sentenceOf(problem)
  }
}
async function stepDone() {
  turnTo('')
  await Promise.all([readMe(), load()])
}

const { data: tokens } = useLoaded(() => answerOf(api.GET('/api/me/tokens')))
const making = ref(false)
async function makeToken(body: Schemas['TokenForm']) {
  const made = await answerOf(api.POST('/api/me/tokens', { body }))
  tokens.value = { tokens: made.tokens }
  return made
}
const endToken = (token: Schemas['Token']) =>
  attempt(
    async () => (tokens.value = await answerOf(api.DELETE('/api/me/tokens', { body: { id: token.id } }))),
    `The token ${token.name} has ended.`,
  )

const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/me/sessions')))
const others = computed(() => data.value?.sessions.filter((one) => !one.here).length ?? 0)
const end = (id: string | null) =>
  attempt(
    async () => (data.value = await answerOf(api.DELETE('/api/me/sessions', { body: { id } }))),
    id ? 'That session has ended.' : 'All your other sessions have ended.',
  )

function device(text: string | null) {
  if (!text) return 'unknown'
  const { browser, os } = Bowser.parse(text)
  return [browser.name, os.name && `on ${os.name}`].filter(Boolean).join(' ') || 'another program'
}
</script>

<template>
  <div class="flex items-center gap-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Your page</h1>
    <span class="text-muted">{{ person?.name }}, {{ person?.role }}</span>
  </div>
  <div class="grid gap-x-12 p-3 sm:p-5 lg:grid-cols-[24rem_1fr]">
    <section class="mb-8 min-w-0">
      <h2 class="mb-3 text-lg font-semibold">You</h2>
      <form v-if="mine" @submit.prevent="saveMe">
        <FormRow v-slot="{ id, describedby }" label="Your name" :wrong="wrongOf.name"
          ><input :id="id" v-model="mine.name" class="input" maxlength="120" :aria-describedby="describedby"
        /></FormRow>
        <FormRow
          v-slot="{ id, describedby }"
          label="Your phone"
          :wrong="wrongOf.phone"
          hint="It can stand in mails that rules write."
          ><input :id="id" v-model="mine.phone" type="tel" class="input" maxlength="60" :aria-describedby="describedby"
        /></FormRow>
        <FormRow
          v-slot="{ id, describedby }"
          label="Your time zone"
          :wrong="wrongOf.zone"
          hint="In which you read when something happened. Days and due times are those of the house."
          ><PickOne
            :id="id"
            v-model="mine.zone"
            label="Your time zone"
            :options="zones"
            :blank="`That of the house (${me!.house_zone.replace(/_/g, ' ')})`"
            :describedby="describedby"
        /></FormRow>
        <AbsenceRows v-model="mine.absences" :today="setup.today" :wrong="wrongOf.absences" />
        <p v-if="wrongOf['']" class="mb-3 text-red" role="alert">{{ wrongOf[''] }}</p>
        <button type="submit" class="btn btn-go" :disabled="!changed">Save</button>
      </form>
    </section>
    <section class="mb-8 min-w-0">
      <h2 class="mb-1 text-lg font-semibold">How you are told</h2>
      <p class="mb-2 text-muted">
        What a person or a rule tells you always stands in the bell, and so do failed tries to sign in with your
        address. The daily mail comes at 08:00 of your zone on your working days, with what is late, what is for today,
        and what you were told since; when there is nothing to say, none comes.
      </p>
      <div
        v-for="one in me?.tell ?? []"
        :key="one.key"
        class="flex flex-wrap items-center justify-between gap-x-3 gap-y-1 border-b border-line py-1"
      >
        <span>When {{ one.words }}</span
        ><SelectBox
          :model-value="one.way"
          :options="[...TELLING]"
          :label="`When ${one.words}`"
          @update:model-value="(way) => tell(one.key, way)"
        />
      </div>
    </section>
    <section class="mb-8 min-w-0">
      <h2 class="mb-3 text-lg font-semibold">Password</h2>
      <form @submit.prevent="change">
        <input type="text" class="hidden" autocomplete="username" :value="person?.email ?? ''" readonly />
        <FormRow v-slot="{ id }" label="The one you have now">
          <input
            :id="id"
            v-model="form.now"
            type="password"
            class="input"
            maxlength="200"
            required
            autocomplete="current-password"
          />
        </FormRow>
        <NewPassword v-model="form.next" label="The new one" :wrong="wrong" />
        <button type="submit" class="btn btn-go" :aria-busy="busy">Change the password</button>
      </form>
    </section>
    <section v-if="me" class="mb-8 min-w-0">
      <h2 class="mb-1 text-lg font-semibold">Second step at sign-in</h2>
      <template v-if="step === 'set_up'">
        <SecondStepSetup @done="stepDone"
          ><button type="button" class="btn btn-quiet ml-2" @click="turnTo('')">Not now</button></SecondStepSetup
        >
      </template>
      <RecoveryCodes v-else-if="codes" :codes="codes" @done="turnTo('')" />
      <form v-else-if="step" class="max-w-sm" @submit.prevent="doStep">
        <p class="mb-3 text-muted">
          {{
            step === 'end'
              ? 'From then on your password alone lets in whoever knows it.'
              : 'Those that you have used are replaced by new ones; the others stay good.'
          }}
        </p>
        <FormRow v-slot="{ id }" label="Your password" :wrong="stepWrong"
          ><input
            :id="id"
            v-model="stepPassword"
            type="password"
            class="input"
            autocomplete="current-password"
            maxlength="200"
            required
        /></FormRow>
        <button type="submit" class="btn btn-go">
          {{ step === 'end' ? 'Take it away' : 'Show the recovery codes' }}
        </button>
        <button type="button" class="btn btn-quiet ml-2" @click="turnTo('')">Not now</button>
      </form>
      <template v-else-if="me.second_step.set_up">
        <p class="mb-3 text-muted">After your password you are asked for a code of your authenticator.</p>
        <button type="button" class="btn" @click="turnTo('codes')">Recovery codes</button>
        <button v-if="!me.second_step.needed" type="button" class="btn btn-quiet ml-2" @click="turnTo('end')">
          Take it away
        </button>
      </template>
      <template v-else>
        <p class="mb-3 max-w-prose text-muted">
          With one, a password that somebody has guessed or seen is not enough: a code from your phone is asked for too.
        </p>
        <button type="button" class="btn" @click="turnTo('set_up')">Set up a second step</button>
      </template>
    </section>
    <section class="mb-8 min-w-0 lg:col-span-2">
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Tokens for programs that act in your name</h2>
        <button type="button" class="btn" @click="making = true">New token</button>
      </div>
      <TokenList v-if="tokens?.tokens.length" :tokens="tokens.tokens" @end="endToken" />
      <p v-else class="text-muted">
        You have none. With one, a program does what you may do, as far as the token lets.
      </p>
      <TokenDialog :open="making" :make="makeToken" @close="making = false" />
    </section>
    <OwnCalendar class="lg:col-span-2" />
    <section class="min-w-0 lg:col-span-2">
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Where you are signed in</h2>
        <button v-if="others" type="button" class="btn" @click="end(null)">End all others</button>
      </div>
      <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
      <div class="overflow-x-auto">
        <table v-if="data" class="ledger">
          <thead>
            <tr>
              <th>On</th>
              <th class="hidden sm:table-cell">Since</th>
              <th>Last used</th>
              <th><span class="sr-only">End it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in data.sessions" :key="one.id">
              <td>{{ device(one.device) }} <span v-if="one.here" class="flag ml-1 bg-band-2">this one</span></td>
              <td class="hidden whitespace-nowrap sm:table-cell">{{ moment(one.begun_at) }}</td>
              <td class="whitespace-nowrap">{{ moment(one.used_at) }}</td>
              <td class="text-right">
                <button v-if="!one.here" type="button" class="link whitespace-nowrap" @click="end(one.id)">
                  End it
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  </div>
</template>

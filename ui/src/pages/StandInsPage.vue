<script setup lang="ts">
import { onUnmounted, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import StandInAnswer from './StandInAnswer.vue'
import StandInLetter from './StandInLetter.vue'

/** What came to the stand-ins of the demo, the newest first, and how each behaves with what comes next. */
type Of = 'mailbox' | 'board' | 'office'
const { moment } = useDates()
const { say, attempt } = useNotices()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/stand-ins')))
const timer = window.setInterval(() => document.hidden || void reload(), 2000)
onUnmounted(() => window.clearInterval(timer))

const PLACES: { of: Of; name: string; words: string }[] = [
  { of: 'mailbox', name: 'Mailbox', words: 'Takes every mail, to whomever it goes.' },
  { of: 'board', name: 'Board', words: 'A channel of a chat server.' },
  { of: 'office', name: 'Office program', words: 'Takes signed calls, and answers with the number it gives to each.' },
]
const MANNERS = [
  { value: 'take', words: 'takes what comes' },
  { value: 'slow', words: 'is slow' },
  { value: 'put_off', words: 'asks to come later' },
  { value: 'refuse', words: 'refuses for good' },
  { value: 'dead', words: 'does not answer' },
] as const
type Manner = (typeof MANNERS)[number]['value']
async function tell(of: Of, manner: Manner) {
  await answerOf(api.POST('/api/stand-ins/manner', { body: { of, manner } }))
  await reload()
}
async function forget() {
  await answerOf(api.DELETE('/api/stand-ins'))
  say('The stand-ins have forgotten what came.')
  await reload()
}
const playing = ref(false)
async function play(all: boolean) {
  playing.value = true
  try {
    await attempt(() => answerOf(api.POST('/api/stand-ins/feed', { body: { all } })))
    await reload()
  } finally {
    playing.value = false
  }
}
const SIGNED = { rightly: 'rightly signed', wrongly: 'wrongly signed', not: 'not signed' }
const lines = (call: Schemas['CameCall']) => {
  try {
    return JSON.stringify(JSON.parse(call.body ?? ''), null, 2)
  } catch {
    return call.body ?? ''
  }
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Stand-ins</h1>
    <span class="text-muted">What the demo sends out comes here, and goes no further.</span>
    <button v-if="data" type="button" class="btn ml-auto" @click="forget">Forget all that came</button>
  </div>
  <TroubleBox v-if="error" :text="error" class="m-5" @retry="reload" />
  <div v-if="data" class="grid gap-5 p-3 sm:p-5 lg:grid-cols-2 2xl:grid-cols-4">
    <section v-for="place in PLACES" :key="place.of" class="min-w-0" :aria-label="place.name">
      <h2 class="text-lg font-semibold">{{ place.name }}</h2>
      <p class="text-muted">{{ place.words }}</p>
      <div class="my-2">
        <SelectBox
          :model-value="data.manners[place.of] as Manner"
          :options="[...MANNERS]"
          :label="`How the ${place.name.toLowerCase()} behaves`"
          wide
          @update:model-value="(manner) => tell(place.of, manner)"
        />
      </div>
      <StandInLetter v-if="place.of === 'mailbox'" />
      <ul v-if="place.of === 'mailbox'">
        <li v-for="(mail, index) in data.mailbox" :key="mail.id ?? index" class="mb-2 border border-line bg-paper p-3">
          <p class="break-words">
            <span class="text-muted">to</span> {{ mail.to
            }}<template v-if="mail.cc"> <span class="text-muted">copy to</span> {{ mail.cc }}</template>
          </p>
          <p class="font-semibold break-words">{{ mail.subject }}</p>
          <p class="break-words whitespace-pre-line">{{ mail.text }}</p>
          <p v-if="mail.files.length" class="text-muted">{{ mail.files.join(', ') }}</p>
          <StandInAnswer v-if="mail.id" :id="mail.id" :to="mail.to" />
        </li>
      </ul>
      <ul v-else>
        <li v-for="(call, index) in data[place.of]" :key="index" class="mb-2 border border-line bg-paper p-3">
          <p class="text-muted">
            {{ moment(call.at) }} · {{ call.path
            }}<template v-if="call.signed">
              ·
              <span :class="call.signed === 'rightly' ? 'text-leaf' : 'text-red'">{{
                SIGNED[call.signed]
              }}</span></template
            >
          </p>
          <p v-if="call.text !== undefined" class="break-words whitespace-pre-line">{{ call.text }}</p>
          <pre v-else tabindex="0" class="max-h-64 overflow-auto font-mono text-xs break-all whitespace-pre-wrap">{{
            lines(call)
          }}</pre>
        </li>
      </ul>
      <p v-if="!data[place.of].length" class="text-muted">Nothing has come yet.</p>
    </section>
    <section class="min-w-0" aria-label="Feed">
      <h2 class="text-lg font-semibold">Feed</h2>
      <p class="text-muted">A program outside that finds reviews and mentions, and sends each to a door as an event.</p>
      <div class="my-2 flex gap-2">
        <button type="button" class="btn" :disabled="!data.feed.left" :aria-busy="playing" @click="play(false)">
          Send the next
        </button>
        <button
          type="button"
          class="btn btn-quiet"
          :disabled="!data.feed.left"
          :aria-busy="playing"
          @click="play(true)"
        >
          Send all {{ data.feed.left || '' }}
        </button>
      </div>
      <ul>
        <li v-for="(one, index) in data.feed.sent" :key="index" class="mb-2 border border-line bg-paper p-3">
          <p class="text-muted">{{ moment(one.at) }} · {{ one.id }}</p>
          <p class="font-semibold">{{ one.headline }}</p>
          <p :class="one.status === 202 ? 'text-leaf' : 'text-red'">answered {{ one.status || 'not at all' }}</p>
          <pre tabindex="0" class="max-h-40 overflow-auto font-mono text-xs break-all whitespace-pre-wrap">{{
            one.answer
          }}</pre>
        </li>
      </ul>
      <p v-if="!data.feed.sent.length" class="text-muted">Nothing was sent yet.</p>
    </section>
  </div>
</template>

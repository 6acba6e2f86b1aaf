<script setup lang="ts">
import { computed, onUnmounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** A change of many records: how far it has come, what was refused, and the way back. */
type Change = Schemas['BulkChange']
const LOOK_AGAIN = 800
const route = useRoute()
const id = Number(route.params.id)
const { kindOf } = useSetup()
const { moment, day } = useDates()
const { attempt } = useNotices()
const change = shallowRef<Change | null>(null)
const trouble = ref('')
const busy = ref(false)
let timer = 0
function take(fresh: Change) {
  change.value = fresh
  window.clearTimeout(timer)
  if (['running', 'undoing'].includes(fresh.state)) timer = window.setTimeout(() => void load(), LOOK_AGAIN)
}
async function load() {
  trouble.value = ''
  try {
    take(await answerOf(api.GET('/api/bulk/{id}', { params: { path: { id } } })))
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
void load()
onUnmounted(() => window.clearTimeout(timer))
async function step(name: 'stop' | 'go-on' | 'undo') {
  busy.value = true
  await attempt(async () =>
    take(await answerOf(api.POST('/api/bulk/{id}/{step}', { params: { path: { id, step: name } } }))),
  )
  busy.value = false
}
const kind = computed(() => change.value && kindOf(change.value.kind))
const many = (count: number) =>
  counted(count, kind.value?.label.toLowerCase() ?? 'record', kind.value?.plural.toLowerCase() ?? 'records')
const n = (count: number) => count.toLocaleString('en-GB')
const done = computed(() => (change.value ? change.value.total - change.value.waiting : 0))
const share = computed(() => {
  const one = change.value
  if (!one) return 0
  if (one.state === 'undoing') return (one.back + one.stayed) / Math.max(1, one.back + one.stayed + one.changed)
  return done.value / Math.max(1, one.total)
})
const SAID: Record<Change['state'], string> = {
  running: 'It is under way.',
  stopped: 'It was stopped; what is done stands.',
  done: 'It is done.',
  undoing: 'It is being undone.',
  undone: 'It was undone.',
  undone_partly: 'The way back was stopped.',
}
const mayUndo = computed(
  () => ['done', 'stopped', 'undone_partly'].includes(change.value?.state ?? '') && !!change.value?.changed,
)
</script>

<template>
  <TroubleBox v-if="trouble && !change" :text="trouble" class="m-5" @retry="load" />
  <template v-if="change">
    <div class="flex flex-wrap items-center gap-x-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
      <h1 class="text-xl font-bold">{{ change.words }}</h1>
      <span class="text-muted">{{ many(change.total) }} · begun {{ moment(change.at) }}</span>
      <span class="ml-auto flex gap-4">
        <RouterLink to="/bulk">All your changes of many</RouterLink>
        <RouterLink :to="`/records/${change.kind}`">To the list</RouterLink>
      </span>
    </div>
    <div class="max-w-3xl p-3 sm:p-5">
      <p v-if="change.failed" class="mb-3 border border-red px-3 py-2 text-red" role="alert">{{ change.failed }}</p>
      <p class="mb-2" role="status">
        <b class="font-semibold">{{ SAID[change.state] }}</b>
        <template v-if="change.state === 'running'"> {{ n(done) }} of {{ n(change.total) }}.</template>
      </p>
      <progress
        v-if="['running', 'undoing'].includes(change.state)"
        class="mb-2 h-3 w-full max-w-xl accent-pine"
        max="1"
        :value="share"
        aria-label="How far it has come"
      />
      <p class="mb-3 text-lg" data-test="bulk-counts">
        <template v-if="change.back || change.stayed || change.state.startsWith('und')">
          <b class="font-semibold">{{ n(change.back) }}</b> as they were
          <template v-if="change.stayed"
            >, {{ n(change.stayed) }} stay in whole or in part, since they were changed in the meantime</template
          ><template v-if="change.changed">, {{ n(change.changed) }} still changed</template>.
        </template>
        <template v-else>
          <b class="font-semibold">{{ n(change.changed) }}</b> changed, {{ n(change.same) }} were so already,
          {{ n(change.refused) }} refused<template v-if="change.waiting && change.state === 'stopped'"
            >, {{ n(change.waiting) }} not yet looked at</template
          >.
        </template>
      </p>
      <div class="mb-4 flex flex-wrap items-center gap-2">
        <button
          v-if="['running', 'undoing'].includes(change.state)"
          type="button"
          class="btn"
          :disabled="busy"
          @click="step('stop')"
        >
          Stop it
        </button>
        <button v-if="change.state === 'stopped'" type="button" class="btn" :disabled="busy" @click="step('go-on')">
          Go on
        </button>
        <button v-if="mayUndo" type="button" class="btn" :disabled="busy" @click="step('undo')">
          {{ change.state === 'undone_partly' ? 'Go on undoing it' : 'Undo all of it' }}
        </button>
        <span v-if="mayUndo" class="text-muted"
          >until {{ day(change.until.slice(0, 10)) }}; what rules made of it goes too</span
        >
      </div>
      <template v-if="change.reasons.length">
        <h2 class="mb-1 text-lg font-semibold">What was refused, and why</h2>
        <table class="ledger">
          <thead>
            <tr>
              <th>{{ kind?.label ?? 'Record' }}</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in change.reasons" :key="one.record">
              <td>
                <RouterLink v-if="one.title" :to="`/record/${one.record}`">{{ one.title }}</RouterLink>
                <template v-else>record {{ one.record }}</template>
              </td>
              <td>{{ one.reason }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="change.refused + change.stayed > change.reasons.length" class="mt-1 text-muted">
          The first {{ change.reasons.length }} are shown.
        </p>
      </template>
    </div>
  </template>
</template>

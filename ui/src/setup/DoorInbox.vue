<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'

/** What was refused, with the reason and as it came: taken again when the table is mended, or put away. */
const props = defineProps<{ doors: Schemas['DoorRow'][] }>()
const emit = defineEmits<{ settled: [] }>()
type Arrival = Schemas['Arrival']
const { moment } = useDates()
const { say, attempt } = useNotices()
const rows = shallowRef<Arrival[]>([])
const more = ref(false)
const trouble = ref('')
const state = ref<Arrival['state']>('refused')
const STATES = [
  { value: 'refused' as const, words: 'refused, waiting' },
  { value: 'taken' as const, words: 'taken' },
  { value: 'away' as const, words: 'put away' },
]
const nameOf = (key: string) => props.doors.find((one) => one.key === key)?.name ?? key
const waiting = computed(() => props.doors.filter((one) => one.waiting))

async function load(before?: number) {
  try {
    const query = { state: state.value, ...(before ? { before: String(before) } : {}) }
    const page = await answerOf(api.GET('/api/doors/inbox', { params: { query } }))
    rows.value = before ? [...rows.value, ...page.rows] : page.rows
    more.value = page.more
    trouble.value = ''
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
watch(state, () => load(), { immediate: true })
async function settled() {
  emit('settled')
  await load()
}
async function again(row: Arrival) {
  const done = await attempt(async () => {
    const fresh = await answerOf(api.POST('/api/doors/inbox/again', { body: { id: row.id } }))
    if (fresh.state === 'taken') say('It is taken.')
    else say(`It is still refused. ${fresh.reason ?? ''}`, 'bad')
  })
  if (done) await settled()
}
async function allAgain(door: string) {
  await attempt(async () => {
    const came = await answerOf(api.POST('/api/doors/inbox/all', { body: { door } }))
    say(`${counted(came.taken, 'message', 'messages')} taken, ${came.refused} still refused.`)
  })
  await settled()
}
async function putAway(row: Arrival) {
  if (await attempt(() => answerOf(api.POST('/api/doors/inbox/away', { body: { id: row.id } })), 'It is put away.'))
    await settled()
}
</script>

<template>
  <section class="mt-8" aria-labelledby="inbox">
    <div class="mb-2 flex flex-wrap items-center gap-3">
      <h2 id="inbox" class="text-lg font-semibold">Inbox</h2>
      <SelectBox v-model="state" :options="STATES" label="Show" />
      <button v-for="one in waiting" :key="one.key" type="button" class="btn" @click="allAgain(one.key)">
        Take all of {{ one.name }} again
      </button>
    </div>
    <p v-if="trouble" class="text-red" role="alert">{{ trouble }}</p>
    <p v-else-if="!rows.length" class="text-muted">
      {{ state === 'refused' ? 'Nothing waits here.' : 'Nothing within 30 days.' }}
    </p>
    <ul v-else class="border-b border-line" data-test="inbox">
      <li v-for="row in rows" :key="row.id" class="border-t border-line py-2">
        <div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <b>{{ nameOf(row.door) }}</b>
          <span class="text-muted">{{ moment(row.at) }}</span>
          <span class="min-w-0 break-all text-muted">{{ row.type }} {{ row.event_id }}</span>
          <span v-if="row.state === 'refused'" class="ml-auto flex gap-2">
            <button type="button" class="btn" @click="again(row)">Take it again</button>
            <button type="button" class="btn btn-quiet" @click="putAway(row)">Put away</button>
          </span>
          <RouterLink v-else-if="row.record_id" class="link ml-auto" :to="`/record/${row.record_id}`">
            What came of it
          </RouterLink>
        </div>
        <ul v-if="row.state === 'refused'" class="text-red">
          <li v-for="(sentence, field) in row.wrong" :key="field">{{ sentence }}</li>
          <li v-if="!Object.keys(row.wrong).length">{{ row.reason }}</li>
        </ul>
        <details>
          <summary class="link cursor-pointer text-sm">As it came</summary>
          <pre class="mt-1 max-h-72 overflow-auto border border-line bg-paper p-2 font-mono text-xs">{{
            JSON.stringify(row.body, null, 2)
          }}</pre>
        </details>
      </li>
    </ul>
    <button v-if="more" type="button" class="btn mt-2" @click="load(rows.at(-1)!.id)">Go on</button>
  </section>
</template>

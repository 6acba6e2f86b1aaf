<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useKeys } from '@/lib/useKeys'
import { useLoaded } from '@/lib/useLoaded'
import { counted } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import HitMark from '@/parts/HitMark.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TableLink from '@/parts/TableLink.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import RunSlip from '@/trail/RunSlip.vue'
import SkipSlip from '@/trail/SkipSlip.vue'
import AsideList from '@/trail/AsideList.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import { useThrottleFn } from '@vueuse/core'

type Row = { key: string; at: string; run?: Schemas['Run']; skip?: Schemas['Skip']; kit?: Schemas['KitEntry'] }
const route = useRoute()
const router = useRouter()
const { moment, today } = useDates()
const { nameOf } = useSetup()
const { mayWriteRules } = useSession()
const number = (name: string) => Number(route.query[name]) || undefined
const set = (changes: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...changes } })

const rule = computed({
  get: () => String(number('rule') ?? ''),
  set: (value) => set({ rule: value || undefined, run: undefined, skip: undefined }),
})
const record = computed(() => number('record'))
const result = computed({
  get: () => String(route.query.result ?? 'ran_failed'),
  set: (value) => set({ result: value === 'ran_failed' ? undefined : value, run: undefined, skip: undefined }),
})
const SPAN = 'span'
const from = computed(() => String(route.query.from ?? ''))
const till = computed(() => String(route.query.till ?? ''))
const days = computed({
  get: () => (from.value || till.value ? SPAN : String(route.query.days ?? '')),
  set: (value) =>
    value === SPAN
      ? set({ days: undefined, from: today(), till: today() })
      : set({ days: value || undefined, from: undefined, till: undefined }),
})

const { data: rules } = useLoaded(() => answerOf(api.GET('/api/rules', {})))
const more = ref<Schemas['Run'][]>([])
const moreSkips = ref<Schemas['Skip'][]>([])
const nextSkip = ref<number | null>(null)
const next = ref<number | null>(null)
const query = () => ({
  ...(rule.value ? { rule: Number(rule.value) } : {}),
  ...(record.value ? { record: record.value } : {}),
  ...(result.value === 'ran_failed' ? {} : { result: result.value as 'all' | 'ran' | 'failed' | 'undone' | 'skipped' }),
  ...(days.value && days.value !== SPAN ? { days: Number(days.value) } : {}),
  ...(from.value ? { from: from.value } : {}),
  ...(till.value ? { till: till.value } : {}),
})
const { data, error, reload } = useLoaded(async () => {
  const page = await answerOf(api.GET('/api/trail', { params: { query: query() } }))
  more.value = []
  moreSkips.value = []
  next.value = page.next
  nextSkip.value = page.next_skip ?? null
  return page
}, [rule, record, result, days, from, till])
useLive(useThrottleFn(() => reload(), 1500, true))

async function loadMore() {
  const page = await answerOf(api.GET('/api/trail', { params: { query: { ...query(), before: next.value! } } }))
  more.value.push(...page.runs)
  next.value = page.next
}

async function loadSkips() {
  const asked = { ...query(), result: 'skipped' as const, skips_before: nextSkip.value! }
  const page = await answerOf(api.GET('/api/trail', { params: { query: asked } }))
  moreSkips.value.push(...page.skips)
  nextSkip.value = page.next_skip ?? null
}

const rows = computed<Row[]>(() => {
  const runs = [...(data.value?.runs ?? []), ...more.value].map((run) => ({ key: `run${run.id}`, at: run.at, run }))
  const skips = [...(data.value?.skips ?? []), ...moreSkips.value].map((skip) => ({
    key: `skip${skip.entry}-${skip.rule.id}`,
    at: skip.at,
    skip,
  }))
  const kits = (data.value?.kits ?? []).map((kit) => ({ key: `kit${kit.entry}`, at: kit.at, kit }))
  return skips.length || kits.length
    ? [...runs, ...skips, ...kits].sort((one, other) => (one.at < other.at ? 1 : -1))
    : runs
})
const chosenKey = computed(() =>
  route.query.run
    ? `run${String(route.query.run)}`
    : route.query.skip
      ? `skip${String(route.query.skip)}`
      : route.query.kit
        ? `kit${String(route.query.kit)}`
        : (rows.value[0]?.key ?? ''),
)
const chosen = computed(() => rows.value.find((row) => row.key === chosenKey.value))
const runId = computed(() => (chosenKey.value.startsWith('run') ? Number(chosenKey.value.slice(3)) : null))
const skipIds = computed(() =>
  chosenKey.value.startsWith('skip') ? chosenKey.value.slice(4).split('-').map(Number) : null,
)

function choose(row: Row) {
  void set({
    run: row.run ? String(row.run.id) : undefined,
    skip: row.skip ? `${row.skip.entry}-${row.skip.rule.id}` : undefined,
    kit: row.kit ? String(row.kit.entry) : undefined,
  })
}
const stepBy = (step: number) => {
  const place = rows.value.findIndex((row) => row.key === chosenKey.value)
  const to = rows.value[Math.min(Math.max(place + step, 0), rows.value.length - 1)]
  if (to) choose(to)
}
useKeys({ j: () => stepBy(1), k: () => stepBy(-1), ArrowDown: () => stepBy(1), ArrowUp: () => stepBy(-1) })
watch(chosenKey, (key) =>
  requestAnimationFrame(() => document.getElementById(key)?.scrollIntoView({ block: 'nearest' })),
)

// The name of the record that is filtered by, known from its rows or asked for.
const { data: named } = useLoaded(
  async () =>
    record.value
      ? (await answerOf(api.GET('/api/records/{id}', { params: { path: { id: record.value } } }))).record.title
      : null,
  [record],
)
const asking = ref(false)
const results = [
  { value: 'ran_failed', words: 'Ran and failed' },
  { value: 'ran', words: 'Ran' },
  { value: 'failed', words: 'Failed' },
  { value: 'undone', words: 'Taken back' },
  { value: 'all', words: 'Ran, skipped and failed' },
  { value: 'skipped', words: 'Skipped' },
]
const needsNarrowing = computed(() => ['all', 'skipped'].includes(result.value) && !rule.value && !record.value)
const made = (run: Schemas['Run']) =>
  run.state === 'failed'
    ? run.why
    : [run.state === 'undone' && 'Taken back. ', run.task_count && `${counted(run.task_count, 'task')}: `, run.why]
        .filter(Boolean)
        .join('')
</script>

<template>
  <PageHead>
    <template #title><h1 class="mr-3 text-xl font-bold">Trail</h1></template>
    <template #default>
      <SelectBox
        v-model="rule"
        label="Rule"
        :options="[
          { value: '', words: 'Any rule' },
          ...(rules?.rules ?? []).map((one) => ({ value: String(one.id), words: one.name })),
        ]"
      />
      <span v-if="record" class="flex min-h-[30px] items-center gap-2 rounded-xs border border-line bg-paper px-2"
        ><b>{{ named ?? `record ${record}` }}</b
        ><button
          type="button"
          aria-label="Any record"
          @click="set({ record: undefined, run: undefined, skip: undefined })"
        >
          ×
        </button></span
      >
      <RecordPicker
        v-else
        :model-value="null"
        label="Record"
        class="w-44"
        @chosen="(one) => one && set({ record: String(one.id), run: undefined, skip: undefined })"
      />
      <SelectBox v-model="result" :options="results" label="Result" />
      <SelectBox
        v-model="days"
        label="Days"
        :options="[
          { value: '', words: 'All days' },
          { value: '1', words: 'Last day' },
          { value: '7', words: 'Last 7 days' },
          { value: '30', words: 'Last 30 days' },
          { value: '90', words: 'Last 90 days' },
          { value: SPAN, words: 'From a day to a day' },
        ]"
      />
      <template v-if="days === SPAN">
        <input
          type="date"
          class="input !w-36"
          aria-label="From the day"
          :value="from"
          @change="set({ from: ($event.target as HTMLInputElement).value || undefined })"
        />
        <input
          type="date"
          class="input !w-36"
          aria-label="To the day"
          :value="till"
          @change="set({ till: ($event.target as HTMLInputElement).value || undefined })"
        />
      </template>
    </template>
    <template #main
      ><span class="ml-auto flex items-center gap-2"
        ><TableLink of="trail" :query="query()" /><button
          type="button"
          class="btn"
          @click="((asking = true), (result = 'all'))"
        >
          Ask why not
        </button></span
      ></template
    >
  </PageHead>
  <AsideList v-if="mayWriteRules" />
  <p v-if="needsNarrowing" class="border-b border-line bg-amber-bg px-5 py-2 text-amber">
    Choose a rule or a record: skips are not kept, they are worked out again from the journal when you ask about one.
  </p>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else class="grid flex-1 min-[900px]:grid-cols-[560px_1fr]">
    <div class="min-w-0">
      <p v-if="data && !rows.length" class="p-6 text-muted">
        {{
          needsNarrowing
            ? ''
            : 'No runs here. A run stands here for every rule that met an event; widen the filter to see more.'
        }}
      </p>
      <table v-else class="ledger table-fixed">
        <thead>
          <tr>
            <th class="w-[128px]">When</th>
            <th class="w-[52px]"><span class="sr-only">Branch</span></th>
            <th>Rule</th>
            <th>What happened</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in rows"
            :id="row.key"
            :key="row.key"
            :data-chosen="row.key === chosenKey"
            class="cursor-pointer"
            @click="choose(row)"
          >
            <td class="font-mono !text-[12px] whitespace-nowrap">{{ moment(row.at) }}</td>
            <td><HitMark :branches="row.run?.branches ?? []" :failed="row.run?.state === 'failed'" /></td>
            <td class="break-words">
              <button
                type="button"
                class="text-left hover:underline"
                :class="row.key === chosenKey ? 'font-semibold' : ''"
              >
                {{ row.kit ? `Kit ${row.kit.kit}` : (row.run ?? row.skip)!.rule.name }}
              </button>
            </td>
            <td class="break-words">
              <RouterLink
                v-if="!record && (row.run ?? row.skip)?.record"
                :to="`/record/${(row.run ?? row.skip)!.record!.id}`"
                @click.stop
                >{{ (row.run ?? row.skip)!.record!.title }}</RouterLink
              >
              <span v-else-if="(row.run ?? row.skip)?.task">{{ (row.run ?? row.skip)!.task }}</span>
              <div class="text-muted data-[state=failed]:text-red" :data-state="row.run?.state">
                {{ row.kit ? row.kit.words : row.run ? made(row.run) : row.skip!.why }}
              </div>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="nextSkip" class="p-3 text-sm text-muted">
        Skips are worked out for 150 events at a time.
        <button type="button" class="link" @click="loadSkips">Look at earlier events</button>
      </p>
      <div v-if="next" class="p-4"><button type="button" class="btn" @click="loadMore">Show more</button></div>
    </div>
    <aside class="side border-pine bg-paper px-5 py-[14px] min-[900px]:border-l" aria-label="The run">
      <RunSlip v-if="runId" :id="runId" @undone="reload" />
      <SkipSlip v-else-if="skipIds" :entry="skipIds[0]!" :rule="skipIds[1]!" />
      <template v-else-if="chosen?.kit">
        <h2 class="text-lg font-bold">Kit {{ chosen.kit.kit }}</h2>
        <p class="mb-2">
          {{ chosen.kit.words }}<template v-if="chosen.kit.who">, by {{ nameOf(chosen.kit.who) }}</template
          >, {{ moment(chosen.kit.at) }}
        </p>
        <ul>
          <li v-for="line in chosen.kit.lines" :key="line" class="border-b border-line py-1">{{ line }}</li>
        </ul>
      </template>
      <p v-else-if="asking || !chosen" class="text-muted">
        Choose a run or a skip on the left to see each test with the value it saw.
      </p>
    </aside>
  </div>
</template>

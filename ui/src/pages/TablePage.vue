<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useDates } from '@/lib/dates'
import { counted } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import DoorRows from '@/setup/DoorRows.vue'
import { HOW_WORDS, keysOf } from '@/setup/doorMap'
import { problemsAt } from '@/setup/formAsks'
import { useSetup } from '@/state/setup'
import TableReading from '@/table/TableReading.vue'
import TableRefusals from '@/table/TableRefusals.vue'
import TableStart from '@/table/TableStart.vue'
import { useTable } from '@/table/useTable'

/** One table that is brought in, step by step: read, mapped, looked at, written, and taken back. */
const route = useRoute()
const id = Number(route.params.id)
const { kindOf } = useSetup()
const { moment } = useDates()
const { table, trouble, wrong, busy, load, plan, look, start, stop, undo, forget } = useTable(id)
const kind = computed(() => table.value && kindOf(table.value.kind))
const copy = <T,>(value: T): T => JSON.parse(JSON.stringify(value)) as T

const map = ref(copy(table.value?.plan.map ?? { how: 'make' as const, rows: [], types: [] as string[] }))
const empties = ref(false)
watch(
  () => table.value?.plan,
  (fresh) => {
    if (!fresh) return
    map.value = copy(fresh.map)
    empties.value = fresh.empties
  },
)
const differs = computed(
  () =>
    JSON.stringify([map.value, empties.value]) !== JSON.stringify([table.value?.plan.map, table.value?.plan.empties]),
)
const keys = computed(() => keysOf(kind.value ?? undefined).map((one) => ({ value: one.key, words: one.label })))
const how = computed({
  get: () => map.value.how,
  set: (given) => {
    map.value.how = given
    map.value.key = given === 'make' ? null : (map.value.key ?? keys.value[0]?.value ?? null)
  },
})
const foundBy = computed({ get: () => map.value.key ?? '', set: (key) => (map.value.key = key || null) })
const places = computed(() =>
  (table.value?.heads ?? []).map((head, at) => ({
    path: `c${at}`,
    words: table.value?.sample[0]?.[at] ? `${head}: ${table.value.sample[0][at]}`.slice(0, 60) : head,
  })),
)
const wrongAt = computed(() => ({
  ...(differs.value ? {} : problemsAt(table.value?.problems ?? [])),
  ...Object.fromEntries(Object.entries(wrong.value).map(([key, said]) => [key.replace(/^map\./, ''), said])),
}))
const state = computed(() => table.value?.state ?? 'read')
const planning = computed(() => ['read', 'looked'].includes(state.value))
const moving = computed(() => ['looking', 'running', 'undoing'].includes(state.value))
const SAID = {
  looking: 'Every row is being looked at. Nothing is written yet.',
  running: 'It is being brought in.',
  undoing: 'It is being taken back.',
} as const
async function lookAt() {
  if (differs.value && !(await plan({ map: map.value, empties: empties.value }))) return
  await look()
}
const share = computed(() => {
  const progress = table.value?.progress
  return progress?.total ? Math.min(100, Math.round((progress.done * 100) / progress.total)) : 0
})
const span = (seconds: number) =>
  seconds < 90 ? counted(seconds, 'second') : counted(Math.round(seconds / 60), 'minute')
const many = (count: number | undefined) => (count ?? 0).toLocaleString('en-GB')
const willWrite = computed(() => (table.value?.looked?.made ?? 0) + (table.value?.looked?.changed ?? 0))
const refused = computed(() =>
  planning.value ? (table.value?.looked?.refused ?? 0) : (table.value?.written?.refused ?? 0),
)
</script>

<template>
  <TroubleBox v-if="trouble && !table" :text="trouble" class="m-5" @retry="load" />
  <template v-if="table">
    <div class="flex flex-wrap items-center gap-x-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
      <h1 class="min-w-0 text-xl font-bold break-all">{{ table.name }}</h1>
      <span class="text-muted"
        >becomes {{ kind?.plural ?? 'records of a list that was taken away' }} · given {{ moment(table.at) }}</span
      >
      <span class="ml-auto flex gap-4">
        <RouterLink to="/tables">All your tables</RouterLink>
        <RouterLink :to="`/records/${table.kind}`">To the list</RouterLink>
      </span>
    </div>
    <div class="max-w-5xl p-3 sm:p-5">
      <p v-if="table.forgotten" class="mb-3">
        The file and the list of what it wrote are forgotten, as they are after a week. What it wrote stands, and cannot
        be taken back from here any more.
      </p>
      <p v-if="table.failed" class="mb-3 border border-red px-3 py-2 text-red" role="alert">{{ table.failed }}</p>
      <section v-if="moving" aria-live="polite" data-test="progress">
        <p class="mb-1">
          <b class="font-semibold">{{ SAID[state as keyof typeof SAID] }}</b>
          <template v-if="table.progress?.left != null && table.progress.done">
            {{ span(table.progress.left) }} left<template v-if="state !== 'looking'"
              >, {{ many(table.progress.done) }} of {{ many(table.progress.total) }}, {{ many(table.progress.rate) }} a
              second</template
            >.</template
          >
        </p>
        <progress class="h-3 w-full max-w-xl accent-pine" max="100" :value="share" aria-label="How far it has come" />
        <p class="mt-2"><button type="button" class="btn" :aria-busy="busy" @click="stop">Stop it</button></p>
      </section>
      <section v-if="table.written && !planning" class="mb-5" aria-label="What was written" data-test="written">
        <p class="text-lg">
          <b class="font-semibold">{{ many(table.written.made) }}</b> made,
          <b class="font-semibold">{{ many(table.written.changed) }}</b> changed, {{ many(table.written.same) }} were
          the same already, {{ many(table.written.refused) }} refused.
        </p>
        <p v-if="state === 'done'">
          It is all in{{ table.rules ? ', and rules have met it' : '; no rule has met it' }}. It can be taken back for a
          week.
        </p>
        <p v-else-if="state === 'stopped'">It was stopped on the way; what is written stands.</p>
        <p v-if="table.written.back != null">
          {{ many(table.written.back) }} taken back<template v-if="table.written.stayed"
            >; {{ many(table.written.stayed) }} stay, since somebody has changed them since</template
          >.
        </p>
        <p
          v-if="['done', 'stopped', 'undone_partly'].includes(state) && !table.forgotten"
          class="mt-2 flex flex-wrap gap-2"
        >
          <button type="button" class="btn" :aria-busy="busy" @click="undo">Take it back</button>
          <button
            v-if="state === 'stopped'"
            type="button"
            class="btn btn-go"
            :aria-busy="busy"
            @click="start(table.rules)"
          >
            Go on
          </button>
        </p>
      </section>
      <p v-if="wrong.import || wrong.file || wrong['']" class="mb-3 text-red" role="alert">
        {{ wrong.import ?? wrong.file ?? wrong[''] }}
      </p>
      <template v-if="planning && !table.forgotten">
        <TableReading :table="table" :fixed="false" @form="(form) => plan({ form })" />
        <p v-if="wrong.form" class="mt-1 text-red" role="alert">{{ wrong.form }}</p>
        <section class="mt-5 max-w-2xl" aria-label="What goes where">
          <h2 class="mb-2 text-lg font-semibold">What goes where</h2>
          <FormRow label="Each row" :wrong="wrongAt.how" plain
            ><SelectBox v-model="how" :options="[...HOW_WORDS]" label="Each row" wide
          /></FormRow>
          <FormRow v-if="how !== 'make'" label="It is found by" :wrong="wrongAt.key" plain
            ><SelectBox v-model="foundBy" :options="keys" label="It is found by" wide
          /></FormRow>
          <label v-if="how !== 'make'" class="mb-3 flex items-center gap-2"
            ><input v-model="empties" type="checkbox" /> An empty cell empties the field of one that is there</label
          >
          <DoorRows
            v-if="kind"
            v-model="map.rows"
            :kind="kind"
            :standing="places"
            :message="undefined"
            :wrong="wrongAt"
            :shown="differs ? {} : table.becomes"
            :refused="differs ? {} : table.wrong"
          />
          <p class="mt-4">
            <button
              type="button"
              class="btn"
              :class="state === 'looked' && !differs ? '' : 'btn-go'"
              :aria-busy="busy"
              @click="lookAt"
            >
              {{ state === 'looked' ? 'Look again at every row' : 'Look at every row' }}
            </button>
            <span class="ml-2 text-muted">Nothing is written by that.</span>
          </p>
        </section>
        <section
          v-if="state === 'looked' && table.looked && !differs"
          class="mt-5"
          aria-label="What it would do"
          data-test="looked"
        >
          <h2 class="mb-1 text-lg font-semibold">What it would do</h2>
          <p class="text-lg">
            Of {{ many(table.looked.rows) }} rows <b class="font-semibold">{{ many(table.looked.made) }}</b> would be
            made, <b class="font-semibold">{{ many(table.looked.changed) }}</b> changed,
            {{ many(table.looked.same) }} are the same already, {{ many(table.looked.refused) }} would be refused.
          </p>
        </section>
      </template>
      <TableRefusals
        v-if="refused && !moving && !differs && !table.forgotten"
        :id="id"
        :heads="table.heads"
        :count="refused"
      />
      <TableStart
        v-if="state === 'looked' && !differs && willWrite && !table.forgotten"
        :id="id"
        :count="willWrite"
        :busy="busy"
        :again="false"
        @start="start"
      />
      <p v-if="!moving && !table.forgotten" class="mt-8 border-t border-line pt-3">
        <button type="button" class="btn btn-quiet" :aria-busy="busy" @click="forget">Forget this table</button>
        <span class="ml-2 text-muted">{{
          planning
            ? 'Nothing of it was written.'
            : 'What it wrote stands; it cannot be taken back any more. After a week this happens by itself.'
        }}</span>
      </p>
    </div>
  </template>
</template>

<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { reachOf } from '@/lib/reach'
import { counted } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import TableLink from '@/parts/TableLink.vue'
import TableGiven from '@/table/TableGiven.vue'
import RangeBox from '@/parts/RangeBox.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import NewRecordDialog from '@/record/NewRecordDialog.vue'
import SectionWatch from '@/record/SectionWatch.vue'
import StartRule from '@/record/StartRule.vue'
import { useSession } from '@/state/session'
import { useSetup, type Field } from '@/state/setup'

const OWN_COLUMNS = 5
const EMPTY = ''
const route = useRoute()
const router = useRouter()
const { setup, kindOf, people } = useSetup()

const kindKey = computed(() => String(route.params.kind))
const kind = computed(() => kindOf(kindKey.value))
const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
const set = (changes: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...changes } })

const search = ref(text('search'))
const applySearch = useDebounceFn(() => set({ search: search.value.trim() || undefined }), 200)
watch(kindKey, () => (search.value = text('search')))
const sort = computed(() => text('sort') || 'changed')
const down = computed(() => (text('down') || (sort.value === 'changed' ? '1' : '0')) === '1')
const sortBy = (key: string) =>
  set({
    sort: key,
    down: sort.value === key && !down.value ? '1' : sort.value === key ? '0' : key === 'changed' ? '1' : '0',
  })

// Stage and owner are always there; every other field that is a choice can be added.
const filterable = computed(
  () => kind.value?.fields.filter((field) => ['choice', 'choices', 'person', 'yes_no'].includes(field.type)) ?? [],
)
const ranged = computed(
  () =>
    kind.value?.fields.filter(
      (field) => ['number', 'money', 'date', 'datetime'].includes(field.type) && field.key !== 'changed',
    ) ?? [],
)
const shownRanges = computed(() =>
  ranged.value.filter(
    (field) => added.value.includes(field.key) || text(`from.${field.key}`) || text(`to.${field.key}`),
  ),
)
const range = (field: Field, from: string, to: string) =>
  set({ [`from.${field.key}`]: from || undefined, [`to.${field.key}`]: to || undefined })
const added = ref<string[]>([])
watch(kindKey, () => (added.value = []))
const shownFilters = computed(() =>
  filterable.value.filter(
    (field) =>
      ['stage', 'owner', ...added.value].includes(field.key) ||
      text(`where.${field.key}`) ||
      route.query[`where.${field.key}`] === '',
  ),
)
const addable = computed(() => [
  ...filterable.value.filter((field) => !shownFilters.value.includes(field)),
  ...ranged.value.filter((field) => !shownRanges.value.includes(field)),
])
const values = (field: Field) => {
  const none = { value: EMPTY, words: 'empty' }
  if (field.type === 'person') return [none, ...people.value.map((one) => ({ value: one.key, words: one.name }))]
  if (field.type === 'yes_no') return [none, { value: 'yes', words: 'yes' }, { value: 'no', words: 'no' }]
  return [
    ...(field.key === 'stage' ? [] : [none]),
    ...field.choices.map((choice) => ({ value: choice.key, words: choice.label })),
  ]
}
const chosen = (field: Field) =>
  typeof route.query[`where.${field.key}`] === 'string' ? text(`where.${field.key}`).split('|') : []
const filter = (field: Field, keys: string[]) =>
  set({ [`where.${field.key}`]: keys.length ? keys.join('|') : undefined })
const filtered = computed(
  () => Object.keys(route.query).some((name) => /^(where|from|to)\./.test(name)) || text('search') !== '',
)

const more = ref<Schemas['Record'][]>([])
const next = ref<string | null>(null)
const query = () => ({
  kind: kindKey.value,
  sort: sort.value,
  down: (down.value ? '1' : '0') as '0' | '1',
  ...(text('search') ? { search: text('search') } : {}),
  ...Object.fromEntries(
    Object.entries(route.query).filter(([name, value]) => /^(where|from|to)\./.test(name) && typeof value === 'string'),
  ),
})
const { data, error, loading, reload } = useLoaded(async () => {
  if (!kind.value) throw new Error('There is no such kind of record. Choose one above.')
  const page = await answerOf(api.GET('/api/records', { params: { query: query() } }))
  more.value = []
  next.value = page.next
  return page
}, [() => route.fullPath])
// Rows that were paged in stay as they are; a list at its top keeps itself up to date.
useLive((news) => (news === null || news.records.length) && more.value.length === 0 && reload())

async function loadMore() {
  const page = await answerOf(api.GET('/api/records', { params: { query: { ...query(), after: next.value! } } }))
  more.value.push(...page.rows)
  next.value = page.next
}

const rows = computed(() => [...(data.value?.rows ?? []), ...more.value])
const columns = computed(() => {
  const fields = kind.value?.fields ?? []
  const all = fields.filter((field) => !field.built_in && field.type !== 'long_text')
  // Worked-out fields are what lists are sorted by; they stand behind the first others.
  const own = [...all.filter((field) => !field.formula).slice(0, OWN_COLUMNS), ...all.filter((field) => field.formula)]
  const built = (key: string) =>
    fields.filter((field) => field.key === key && (key !== 'stage' || kind.value?.stages.length))
  return [...built('title'), ...built('stage'), ...own, ...built('owner'), ...built('changed')]
})
const numeric = (field: Field) => ['number', 'money'].includes(field.type)
const count = computed(() => {
  const found = data.value?.count
  return found === undefined ? '' : found > 10_000 ? 'more than 10,000' : found.toLocaleString('en-GB')
})
const making = ref(false)
const mayMake = computed(() => mayWriteRules.value || kind.value?.changed_by !== 'administrators')
const { isLead, mayWriteRules } = useSession()
// Records that a rule is started on by hand.
const picked = ref<number[]>([])
watch(kindKey, () => (picked.value = []))
const pick = (id: number) =>
  (picked.value = picked.value.includes(id) ? picked.value.filter((one) => one !== id) : [...picked.value, id])
const pickAll = () => (picked.value = picked.value.length === rows.value.length ? [] : rows.value.map((row) => row.id))
const kinds = computed(() =>
  setup.value.kinds
    .filter((one) => mayWriteRules.value || one.seen_by !== 'administrators')
    .map((one) => ({ value: one.key, words: one.plural })),
)
</script>

<template>
  <PageHead>
    <template #title
      ><h1 class="mr-1 text-xl font-bold">{{ kind?.plural ?? 'Records' }}</h1>
      <span class="mr-2 text-muted" role="status">{{ count }}</span></template
    >
    <template #default>
      <SelectBox
        :model-value="kindKey"
        :options="kinds"
        label="Kind of record"
        strong
        @update:model-value="(key) => router.push(`/records/${key}`)"
      />
      <input
        v-model="search"
        type="search"
        class="input !w-52"
        placeholder="Words of the title"
        aria-label="Words of the title"
        @input="applySearch"
      />
      <SeveralBox
        v-for="field in shownFilters"
        :key="field.key"
        :model-value="chosen(field)"
        :options="values(field)"
        :label="field.label"
        :blank="field.label"
        @update:model-value="(keys) => filter(field, keys)"
      />
      <RangeBox
        v-for="field in shownRanges"
        :key="field.key"
        :field="field"
        :from="text(`from.${field.key}`)"
        :to="text(`to.${field.key}`)"
        @change="(from, to) => range(field, from, to)"
      />
      <SelectBox
        v-if="addable.length"
        :model-value="null"
        :options="addable.map((field) => ({ value: field.key, words: field.label }))"
        label="Filter by"
        blank="Filter by"
        @update:model-value="(key) => key && added.push(key)"
      />
      <button
        v-if="filtered"
        type="button"
        class="link"
        @click="((search = ''), (added = []), router.replace({ query: {} }))"
      >
        Show all
      </button>
      <TableLink of="records" :query="query()" />
      <TableLink v-if="kindKey === 'contact'" of="records" as="cards" :query="query()" />
      <TableGiven v-if="mayMake" :kind="kindKey" />
      <RouterLink v-if="kind && kind.family !== 'entry'" :to="`/duplicates/${kind.key}`">Duplicates</RouterLink>
      <RouterLink to="/trash">Trash</RouterLink>
      <StartRule v-if="kind" class="sm:ml-auto" :kind="kind" :records="picked" @started="picked = []" />
    </template>
    <template #main
      ><span v-if="kind" class="ml-auto flex items-center gap-2 sm:ml-0">
        <span v-if="picked.length" class="text-muted">{{ picked.length }} chosen</span>
        <button v-if="mayMake" type="button" class="btn btn-go" @click="making = true">
          New {{ kind.label.toLowerCase() }}
        </button>
      </span></template
    >
  </PageHead>
  <SectionWatch v-if="kind?.stages.length" :kind="kind" />
  <TroubleBox v-if="error && !rows.length" :text="error" @retry="reload" />
  <div v-else-if="data && !rows.length" class="p-8">
    <h2 class="mb-1 text-lg font-semibold">
      {{ filtered ? 'Nothing matches' : `No ${kind?.plural.toLowerCase()} yet` }}
    </h2>
    <p class="text-muted">
      <template v-if="filtered"
        >No {{ kind?.plural.toLowerCase() }} have all that you ask for. Take a filter away, or search for the beginning
        of a word.</template
      >
      <template v-else
        >They stand here once somebody makes one.
        <button v-if="mayMake" type="button" class="link" @click="making = true">Make the first</button></template
      >
    </p>
  </div>
  <div v-else class="min-w-0 overflow-x-auto" :aria-busy="loading">
    <table class="ledger">
      <thead>
        <tr>
          <th v-if="isLead" class="w-8">
            <input
              type="checkbox"
              aria-label="Choose all that are shown"
              :checked="picked.length > 0 && picked.length === rows.length"
              @change="pickAll"
            />
          </th>
          <th
            v-for="field in columns"
            :key="field.key"
            :class="numeric(field) ? '!text-right' : ''"
            :aria-sort="sort === field.key ? (down ? 'descending' : 'ascending') : undefined"
          >
            <button type="button" class="font-semibold hover:text-ink" @click="sortBy(field.key)">
              {{ field.label }} <span aria-hidden="true">{{ sort === field.key ? (down ? '↓' : '↑') : '' }}</span>
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id" :data-chosen="picked.includes(row.id)">
          <td v-if="isLead">
            <input
              type="checkbox"
              :aria-label="`Choose ${row.title}`"
              :checked="picked.includes(row.id)"
              @change="pick(row.id)"
            />
          </td>
          <td
            v-for="field in columns"
            :key="field.key"
            :class="[
              numeric(field) ? 'text-right whitespace-nowrap' : '',
              ['date', 'datetime'].includes(field.type) ? 'whitespace-nowrap' : '',
            ]"
          >
            <RouterLink v-if="field.key === 'title'" :to="`/record/${row.id}`" class="font-semibold">{{
              row.title
            }}</RouterLink>
            <RouterLink v-else-if="row.links[field.key]" :to="`/record/${row.links[field.key]!.id}`">{{
              row.shown[field.key]
            }}</RouterLink>
            <a
              v-else-if="reachOf(field.type, row.values[field.key])"
              :href="reachOf(field.type, row.values[field.key])"
              >{{ row.shown[field.key] }}</a
            >
            <template v-else>{{ row.shown[field.key] ?? '' }}</template>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="next" class="p-4">
      <button type="button" class="btn" @click="loadMore">Show {{ counted(50, 'more', 'more') }}</button>
    </div>
  </div>
  <NewRecordDialog
    v-if="kind"
    :open="making"
    :kind="kind"
    @close="making = false"
    @made="(record) => router.push(`/record/${record.id}`)"
  />
</template>

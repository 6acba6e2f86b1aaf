<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { reachOf } from '@/lib/reach'
import { counted } from '@/lib/words'
import ChosenRecords from '@/list/ChosenRecords.vue'
import { columnsOf } from '@/list/columns'
import ListColumns from '@/list/ListColumns.vue'
import ListFilters from '@/list/ListFilters.vue'
import ListViews from '@/list/ListViews.vue'
import { useListQuery } from '@/list/useListQuery'
import PageHead from '@/parts/PageHead.vue'
import TableLink from '@/parts/TableLink.vue'
import TableGiven from '@/table/TableGiven.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import NewRecordDialog from '@/record/NewRecordDialog.vue'
import SectionWatch from '@/record/SectionWatch.vue'
import { useSession } from '@/state/session'
import { useSetup, type Field } from '@/state/setup'

const router = useRouter()
const { setup, kindOf } = useSetup()

const { kindKey, text, set, sort, down, sortBy, narrowed, query, view } = useListQuery()
const kind = computed(() => kindOf(kindKey.value))

const search = ref(text('search'))
const applySearch = useDebounceFn(() => set({ search: search.value.trim() || undefined }), 200)
watch(kindKey, () => (search.value = text('search')))
const filters = useTemplateRef('filters')
function showAll() {
  search.value = ''
  filters.value?.forget()
  void router.replace({ query: {} })
}

const more = ref<Schemas['Record'][]>([])
const next = ref<string | null>(null)
const { data, error, loading, reload } = useLoaded(async () => {
  if (!kind.value) throw new Error('There is no such kind of record. Choose one above.')
  const page = await answerOf(api.GET('/api/records', { params: { query: query.value } }))
  more.value = []
  next.value = page.next
  return page
}, [() => JSON.stringify(query.value)])
// Rows that were paged in stay as they are; a list at its top keeps itself up to date.
useLive((news) => (news === null || news.records.length) && more.value.length === 0 && reload())

async function loadMore() {
  const page = await answerOf(api.GET('/api/records', { params: { query: { ...query.value, after: next.value! } } }))
  more.value.push(...page.rows)
  next.value = page.next
}

const rows = computed(() => [...(data.value?.rows ?? []), ...more.value])
const columns = computed(() => (kind.value ? columnsOf(kind.value, text('columns')) : []))
const numeric = (field: Field) => ['number', 'money'].includes(field.type)
const count = computed(() => {
  const found = data.value?.count
  return found === undefined ? '' : found > 10_000 ? 'more than 10,000' : found.toLocaleString('en-GB')
})
const making = ref(false)
const mayMake = computed(() => mayWriteRules.value || kind.value?.changed_by !== 'administrators')
const { mayWriteRules } = useSession()
// Records that something is done with together.
const picked = ref<number[]>([])
watch(kindKey, () => (picked.value = []))
const pick = (id: number) =>
  (picked.value = picked.value.includes(id) ? picked.value.filter((one) => one !== id) : [...picked.value, id])
const pickAll = () => (picked.value = picked.value.length === rows.value.length ? [] : rows.value.map((row) => row.id))
/** A printed list says what it lacks. */
const MOST_PRINTED = 1000
const printing = ref(false)
async function print() {
  printing.value = true
  try {
    while (next.value && rows.value.length < MOST_PRINTED) await loadMore()
    await nextTick()
    window.print()
  } finally {
    printing.value = false
  }
}
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
      <ListFilters v-if="kind" ref="filters" :kind="kind" />
      <button v-if="narrowed" type="button" class="link" @click="showAll">Show all</button>
      <ListViews v-if="kind" :kind="kind" />
      <ListColumns
        v-if="kind"
        :kind="kind"
        :columns="columns"
        @choose="(keys) => set({ columns: keys?.join(',') || undefined })"
      />
      <TableLink of="records" :query="{ ...query, columns: view.columns }" />
      <TableLink v-if="kindKey === 'contact'" of="records" as="cards" :query="query" />
      <TableGiven v-if="mayMake" :kind="kindKey" />
      <RouterLink v-if="kind && kind.family !== 'entry'" :to="`/duplicates/${kind.key}`">Duplicates</RouterLink>
      <RouterLink to="/trash">Trash</RouterLink>
      <button type="button" class="link" :disabled="printing" @click="print">
        {{ printing ? 'Getting all of it…' : 'Print' }}
      </button>
    </template>
    <template #main
      ><span v-if="kind" class="ml-auto flex items-center gap-2">
        <button v-if="mayMake" type="button" class="btn btn-go" @click="making = true">
          New {{ kind.label.toLowerCase() }}
        </button>
      </span></template
    >
  </PageHead>
  <ChosenRecords
    v-if="kind"
    v-model="picked"
    :kind="kind"
    :query="query as Record<string, string>"
    :shown="rows.length"
    :more="!!next"
  />
  <SectionWatch v-if="kind?.stages.length" :kind="kind" />
  <TroubleBox v-if="error && !rows.length" :text="error" @retry="reload" />
  <div v-else-if="data && !rows.length" class="p-8">
    <h2 class="mb-1 text-lg font-semibold">
      {{ narrowed ? 'Nothing matches' : `No ${kind?.plural.toLowerCase()} yet` }}
    </h2>
    <p class="text-muted">
      <template v-if="narrowed"
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
          <th class="w-8 print:hidden">
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
          <td class="print:hidden">
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
    <p class="hidden p-2 print:block">
      {{ next ? `The first ${rows.length.toLocaleString('en-GB')} of ${count}.` : counted(rows.length, 'row') }}
    </p>
    <div v-if="next" class="p-4 print:hidden">
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

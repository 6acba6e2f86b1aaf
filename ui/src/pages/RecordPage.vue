<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import PageHead from '@/parts/PageHead.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import AheadAxis from '@/record/AheadAxis.vue'
import ConflictDialog from '@/record/ConflictDialog.vue'
import FactRow from '@/record/FactRow.vue'
import HistoryRow from '@/record/HistoryRow.vue'
import KitsInUse from '@/record/KitsInUse.vue'
import LinkedList from '@/record/LinkedList.vue'
import MergedRecords from '@/record/MergedRecords.vue'
import NoteBox from '@/record/NoteBox.vue'
import NotesDialog from '@/record/NotesDialog.vue'
import OpenTasks from '@/record/OpenTasks.vue'
import RecordFiles from '@/record/RecordFiles.vue'
import { useSetBy } from '@/record/setBy'
import StartRule from '@/record/StartRule.vue'
import TakenAway from '@/record/TakenAway.vue'
import TakeOffDialog from '@/record/TakeOffDialog.vue'
import { useAhead } from '@/record/useAhead'
import WhatIf from '@/record/WhatIf.vue'
import { LEVEL_WORDS } from '@/setup/types'
import { useSetup, type Field } from '@/state/setup'
import NewTaskDialog from '@/worklist/NewTaskDialog.vue'

const PAGE = 40
const route = useRoute()
const id = computed(() => Number(route.params.id))
const { setup, kindOf } = useSetup()
const setBy = useSetBy()
const { day, today } = useDates()
const { say, attempt } = useNotices()

const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/records/{id}', { params: { path: { id: id.value } } })),
  [id],
)
const ahead = useAhead(id)
useLive((news) => {
  if (news !== null && !news.records.includes(id.value)) return
  void reload()
  void ahead.load()
})

const record = computed(() => data.value?.record)
const kind = computed(() => (record.value ? kindOf(record.value.kind) : undefined))
watch(record, (one) => one && (document.title = `${one.title} · Yenvo`))

const older = ref<Schemas['Entry'][]>([])
watch(id, () => (older.value = []))
const history = computed(() => [
  ...(data.value?.history ?? []),
  ...older.value.filter((entry) => entry.id < (data.value?.history.at(-1)?.id ?? 0)),
])
const ended = ref(false)
async function showEarlier() {
  const before = history.value.at(-1)!.id
  const page = await answerOf(
    api.GET('/api/records/{id}/history', { params: { path: { id: id.value }, query: { before } } }),
  )
  older.value.push(...page.entries)
  ended.value = page.entries.length < PAGE
}

const clashes = ref<Schemas['Clash'][]>([])
let pending: Record<string, unknown> = {}

/** Saves values against the version on screen; gives the sentence that refuses them, or null. */
async function save(values: Record<string, unknown>, over = false): Promise<string | null> {
  try {
    const saved = await answerOf(
      api.PATCH('/api/records/{id}', {
        params: { path: { id: id.value } },
        body: { values, version: over ? null : record.value!.version },
      }),
    )
    setBy.note(saved)
    await reload()
    return null
  } catch (problem) {
    if (problem instanceof ApiError && problem.refusal.conflicts?.length) {
      pending = values
      clashes.value = problem.refusal.conflicts
      return 'Somebody else changed this in the meantime; choose which value stands.'
    }
    if (problem instanceof ApiError && problem.refusal.fields) return Object.values(problem.refusal.fields).join(' ')
    return sentenceOf(problem)
  }
}
const saveField = (field: Field, value: unknown) => save({ [field.key]: value })

async function keepMine() {
  clashes.value = []
  const refused = await save(pending, true)
  say(refused ?? 'Yours is saved.', refused ? 'bad' : 'good')
}
async function takeTheirs() {
  clashes.value = []
  await reload()
}
async function moveTo(stage: string) {
  const refused = await save({ stage })
  if (refused && !clashes.value.length) say(refused, 'bad')
}

/** Those without a heading first, then heading by heading, in their order. */
const facts = computed(() => {
  const shown = kind.value?.fields.filter((field) => !field.built_in || field.key === 'owner') ?? []
  const groups = [...new Set(['', ...shown.map((field) => field.group ?? '')])]
  return groups.flatMap((group) => shown.filter((field) => (field.group ?? '') === group))
})
const heads = (index: number) =>
  !!facts.value[index]!.group && facts.value[index]!.group !== (facts.value[index - 1]?.group ?? '')
const kept = computed(
  () => kind.value?.fields.filter((field) => ['creator', 'made', 'last_contact'].includes(field.key)) ?? [],
)
const title = computed(() => kind.value?.fields.find((field) => field.key === 'title'))
const since = computed(() => {
  const days = data.value?.stage_days
  return days === null || days === undefined ? '' : days === 0 ? 'since today' : `for ${days} wd`
})
const way = ref('note')
async function logCall() {
  way.value = 'call'
  await nextTick()
  document.getElementById('note-box')?.focus()
}
const making = ref(false)
const linking = ref(false)
async function link(target: Schemas['Linked'] | null) {
  if (!target) return
  const done = await attempt(
    () =>
      answerOf(
        api.POST('/api/records/{id}/links', { params: { path: { id: id.value } }, body: { target: target.id } }),
      ),
    `Linked with ${target.title}.`,
  )
  if (done) {
    linking.value = false
    await reload()
  }
}
const lists = computed(() => setup.value.kinds.filter((one) => one.about === kind.value?.key))
async function putOn(list: string) {
  const path = { id: id.value }
  const done = await attempt(
    () => answerOf(api.POST('/api/records/{id}/lists', { params: { path }, body: { list } })),
    `It stands on ${kindOf(list)?.plural ?? 'the list'} now.`,
  )
  if (done) await reload()
}
const takingOff = ref(false)
const gone = ref(false)
watch(id, () => (gone.value = false))
function tookOff() {
  takingOff.value = false
  gone.value = true
}
async function cameBack() {
  gone.value = false
  await reload()
}
const reading = ref(false)
const noteBox = useTemplateRef('noteBox')
async function quote(text: string) {
  way.value = 'note'
  noteBox.value?.begin(text)
  await nextTick()
  document.getElementById('note-box')?.focus()
}
const renaming = ref(false)
</script>

<template>
  <TakenAway v-if="gone || (error && !data)" :record-id="id" @back="cameBack">
    <TroubleBox :text="error ?? ''" @retry="reload" />
  </TakenAway>
  <template v-else-if="record && kind">
    <PageHead>
      <template #title>
        <span class="hidden text-muted sm:inline"
          ><RouterLink :to="`/records/${kind.key}`">{{ kind.plural }}</RouterLink> /</span
        >
        <h1 class="min-w-0 flex-1 text-base leading-5 font-bold break-words sm:flex-none sm:text-xl">
          {{ record.title }}
        </h1>
        <b v-if="kind.stages.length && !record.may_change" class="font-semibold">{{ record.shown.stage }}</b>
        <SelectBox
          v-else-if="kind.stages.length"
          :model-value="String(record.values.stage ?? '')"
          :options="kind.stages.map((stage) => ({ value: stage.key, words: stage.label }))"
          :label="kind.stage_label"
          strong
          @update:model-value="moveTo"
      /></template>
      <template #default>
        <span class="text-muted">{{
          [since, record.shown.owner && `owner ${record.shown.owner}`].filter(Boolean).join(' · ')
        }}</span>
        <span class="ml-auto flex flex-wrap gap-2">
          <StartRule :kind="kind" :records="[record.id]" @started="reload" />
          <button v-if="record.may_take_away" type="button" class="btn btn-quiet" @click="takingOff = true">
            {{ kind.family === 'entry' ? 'Take off the list' : 'Take away' }}
          </button>
          <button type="button" class="btn btn-quiet" @click="logCall">Log a call</button>
          <button type="button" class="btn" @click="making = true">New task</button>
        </span>
      </template>
    </PageHead>
    <div
      v-if="setBy.latest.value?.record === record.id"
      class="flex items-start justify-between gap-3 border-b border-pine bg-chosen px-3 py-2 sm:px-5"
      role="status"
      data-test="set-by"
    >
      <ul>
        <li v-for="one in setBy.latest.value.said" :key="one.rule.id">
          <RouterLink :to="`/rules/${one.rule.id}`">{{ one.rule.name }}</RouterLink>
          ran before the save: {{ one.words.join('; ') }}
        </li>
      </ul>
      <button type="button" class="link" @click="setBy.putAway">Put away</button>
    </div>
    <div class="grid flex-1 min-[900px]:grid-cols-[1fr_348px]">
      <section class="min-w-0 px-3 pt-2 pb-6 sm:px-5" aria-label="Ahead and what happened">
        <AheadAxis
          v-model:days="ahead.days.value"
          :ahead="ahead.ahead.value"
          :wrong="ahead.wrong.value"
          :kind="kind"
          :record="record"
          :thought="ahead.change.value !== null"
          @retry="ahead.load"
          @as-it-is="ahead.change.value = null"
        />
        <div class="my-[6px] grid grid-cols-[1fr] items-center gap-3 sm:grid-cols-[118px_1fr]">
          <b class="text-amber sm:text-right">Now, {{ day(today()) }}</b
          ><span class="border-t-[3px] border-focus" />
        </div>
        <OpenTasks :tasks="data!.tasks" :count="data!.open_tasks" :record-id="record.id" @changed="reload" />
        <NoteBox ref="noteBox" v-model:way="way" :record-id="record.id" @logged="reload" />
        <button type="button" class="link mb-2 sm:ml-[130px]" @click="reading = true">Quote or change a note</button>
        <ul>
          <template v-for="entry in history" :key="entry.id">
            <HistoryRow v-for="message in entry.messages" :key="message.id" :entry="message" />
            <HistoryRow :entry="entry" />
          </template>
        </ul>
        <button
          v-if="(data?.history.length ?? 0) >= PAGE && !ended"
          type="button"
          class="btn mt-3 sm:ml-[152px]"
          @click="showEarlier"
        >
          Show earlier
        </button>
      </section>
      <aside class="border-pine bg-paper px-[18px] py-3 min-[900px]:border-l" aria-label="Facts">
        <div class="mb-1 flex items-baseline justify-between">
          <h3>Facts</h3>
          <button v-if="record.may_change" type="button" class="link text-sm" @click="renaming = !renaming">
            {{ renaming ? 'Keep the title' : 'Change the title' }}
          </button>
        </div>
        <p v-if="!record.may_change" class="mb-1 text-sm text-muted">
          Changed by {{ LEVEL_WORDS[kind.changed_by] }}; you read along.
        </p>
        <dl class="grid grid-cols-[116px_minmax(0,1fr)] gap-x-[10px]">
          <FactRow v-if="renaming && title" :field="title" :record="record" :save="saveField" />
          <template v-for="(field, index) in facts" :key="field.key">
            <dt v-if="heads(index)" class="col-span-2 pt-3 pb-1 font-semibold">{{ field.group }}</dt>
            <FactRow :field="field" :record="record" :save="saveField" :fixed="!!field.formula || !record.may_change" />
          </template>
          <FactRow v-for="field in kept" :key="field.key" :field="field" :record="record" :save="saveField" fixed />
        </dl>
        <WhatIf
          v-model="ahead.change.value"
          :kind="kind"
          :record="record"
          :busy="ahead.busy.value"
          :wrong="ahead.wrongFields.value"
        />
        <KitsInUse :record-id="record.id" :kind="kind" @changed="reload" />
        <div class="mt-5 mb-1 flex items-baseline justify-between">
          <h3>Linked</h3>
          <button v-if="record.may_change" type="button" class="link text-sm" @click="linking = !linking">
            {{ linking ? 'Leave it' : 'Link a record' }}
          </button>
        </div>
        <SelectBox
          v-if="lists.length"
          :model-value="null"
          :options="lists.map((one) => ({ value: one.key, words: one.plural }))"
          label="Put on a list"
          blank="Put on a list"
          class="mb-2"
          @update:model-value="(list) => list && putOn(list)"
        />
        <RecordPicker v-if="linking" :model-value="null" label="Record to link" class="mb-2" @chosen="link" />
        <LinkedList
          :record-id="record.id"
          :linked="data!.linked"
          :count="data!.linked_count"
          :fixed="!record.may_change"
          @changed="reload"
        />
        <RecordFiles
          :record-id="record.id"
          :version="data!.history[0]?.id ?? 0"
          :fixed="!record.may_change"
          @changed="reload"
        />
        <MergedRecords v-if="kind.family !== 'entry'" :record="record" @changed="reload" />
        <p class="mt-4"><RouterLink :to="`/trail?record=${record.id}`">Which rules ran here</RouterLink></p>
      </aside>
    </div>
    <TakeOffDialog :open="takingOff" :record="record" :kind="kind" @close="takingOff = false" @done="tookOff" />
    <NotesDialog :open="reading" :record-id="record.id" @close="reading = false" @changed="reload" @quote="quote" />
    <ConflictDialog :clashes="clashes" @mine="keepMine" @theirs="takeTheirs" />
    <NewTaskDialog
      :open="making"
      :record="{ id: record.id, title: record.title }"
      @close="making = false"
      @made="reload"
    />
  </template>
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { addDays, useDates } from '@/lib/dates'
import SelectBox from '@/parts/SelectBox.vue'
import type { Kind } from '@/state/setup'

/** What lies ahead of a record, above the Now line: the furthest on top, as the axis of time goes. */
const props = defineProps<{
  ahead: { watching: number; cut: boolean; items: Schemas['AheadItem'][] } | null
  wrong: string | null
  kind: Kind
  record: Schemas['Record']
  /** Whether something is thought to be another. */
  thought: boolean
}>()
const days = defineModel<number>('days', { required: true })
const emit = defineEmits<{ retry: []; asItIs: [] }>()
const { moment, day, today } = useDates()
/** So many of the nearest stand there at first, so that Now is not far down; so many at most. */
const FIRST = 8
const MOST = 60

type Line = { at: string; item?: Schemas['AheadItem']; date?: string; label?: string }
/** Dates of the record stand among what the rules do. */
const dates = computed<Line[]>(() => {
  const end = addDays(today(), days.value)
  return props.kind.fields
    .filter((field) => field.type === 'date' && !field.built_in && props.record.values[field.key])
    .map((field) => ({ date: String(props.record.values[field.key]), label: field.label }))
    .filter((one) => one.date >= today() && one.date <= end)
    .map((one) => ({ ...one, at: `${one.date}T00:00:00.000000Z` }))
})
// What happens at one moment stands in its order too, from below.
const lines = computed<Line[]>(() =>
  [...dates.value, ...(props.ahead?.items ?? []).map((item) => ({ at: item.at, item }) as Line)]
    .map((line, index) => ({ line, index }))
    .sort((one, other) =>
      one.line.at === other.line.at ? other.index - one.index : one.line.at < other.line.at ? 1 : -1,
    )
    .map(({ line }) => line),
)
/** "if still: Stage is Quoted, unless Deposit in is yes" */
function hangsOn(depends: string[]): string {
  const still = depends.filter((one) => !one.startsWith('unless '))
  const unless = depends.filter((one) => one.startsWith('unless '))
  return [still.length ? `if still: ${still.join(', ')}` : '', ...unless].filter(Boolean).join(', ')
}
const wordsOf = (item: Schemas['AheadItem']) =>
  item.what === 'task_changed' && item.title
    ? item.words.replace(/^(This task|Open tasks( that meet the condition)?):/, `“${item.title}”:`)
    : item.words
const all = ref(false)
const shown = computed(() => lines.value.slice(all.value || props.thought ? -MOST : -FIRST))
const counts = computed(() => ({
  fresh: (props.ahead?.items ?? []).filter((one) => one.state === 'new').length,
  gone: (props.ahead?.items ?? []).filter((one) => one.state === 'gone').length,
}))
</script>

<template>
  <section aria-label="Ahead" data-test="ahead">
    <p class="flex flex-wrap items-center gap-x-2 gap-y-1 sm:ml-[152px]">
      <b>{{ thought ? 'Ahead, if that were so.' : 'Ahead, if nothing changes.' }}</b>
      <span v-if="ahead" class="text-muted"
        >Worked out from the {{ ahead.watching }} {{ ahead.watching === 1 ? 'rule' : 'rules' }} that watch
        {{ kind.plural.toLowerCase() }}.</span
      >
      <SelectBox
        :model-value="String(days)"
        :options="[7, 30, 60, 180].map((one) => ({ value: String(one), words: `${one} days` }))"
        label="How far ahead"
        @update:model-value="(text) => (days = Number(text))"
      />
      <template v-if="thought">
        <span class="flag bg-leaf-bg text-leaf" data-test="new-count">{{ counts.fresh }} new</span>
        <span class="flag bg-red-bg text-red" data-test="gone-count">{{ counts.gone }} gone</span>
        <button type="button" class="link" @click="emit('asItIs')">As it is</button>
      </template>
    </p>
    <p v-if="wrong" class="mt-1 text-red sm:ml-[152px]" role="alert">
      {{ wrong }} <button type="button" class="link" @click="emit('retry')">Try again</button>
    </p>
    <p v-else-if="!ahead" class="mt-1 text-muted sm:ml-[152px]">Working it out.</p>
    <p v-else-if="!ahead.items.length" class="mt-1 text-muted sm:ml-[152px]">
      No rule will do anything within {{ days }} days.
    </p>
    <p v-if="lines.length > shown.length || ahead?.cut" class="text-muted sm:ml-[152px]">
      {{ ahead?.cut ? 'There is more than can be shown; ' : '' }}the nearest {{ shown.length }} of
      {{ lines.length }} stand here.
      <button
        v-if="!all && shown.length < MOST && lines.length > shown.length"
        type="button"
        class="link"
        @click="all = true"
      >
        Show {{ lines.length > MOST ? MOST : 'all' }}
      </button>
    </p>
    <ol v-if="shown.length" class="mt-1">
      <li
        v-for="(line, index) in shown"
        :key="index"
        class="grid grid-cols-[22px_1fr] gap-x-3 sm:grid-cols-[118px_22px_1fr_auto]"
        :data-state="line.item?.state"
      >
        <span class="col-start-2 pt-[5px] text-muted tabular-nums sm:col-start-1 sm:text-right">{{
          line.item ? moment(line.at) : day(line.date!)
        }}</span>
        <span
          class="relative col-start-1 row-span-3 row-start-1 self-stretch sm:col-start-2 sm:row-span-1"
          aria-hidden="true"
        >
          <span class="absolute inset-y-0 left-[10px] border-l-2 border-dotted border-muted" />
          <span v-if="line.item" class="ahead-mark" :data-what="line.item.what" />
          <span v-else class="absolute top-[10px] left-[6px] size-[10px] rotate-45 bg-red" />
        </span>
        <span v-if="line.item" class="ahead-words col-start-2 min-w-0 pt-[5px] pb-[3px] break-words sm:col-start-3">
          <span v-if="line.item.state !== 'same'" class="mr-1 font-semibold no-underline">{{
            line.item.state === 'new' ? 'New:' : 'Gone:'
          }}</span>
          <template v-if="line.item.what === 'task'"
            >Task for {{ line.item.who ?? 'nobody' }}: <b>{{ line.item.title }}</b><template v-if="line.item.due"
              >, due {{ day(line.item.due.on) }} {{ line.item.due.at }}</template
            ></template
          ><template v-else>{{ wordsOf(line.item) }}</template>
          <span v-if="line.item.after" class="text-muted">
            {{ line.item.after.startsWith('if ') ? line.item.after : `after ${line.item.after}` }}</span
          >
          <span v-if="line.item.depends.length && !line.item.after" class="text-muted">
            {{ hangsOn(line.item.depends) }}</span
          >
        </span>
        <b v-else class="col-start-2 pt-[5px] pb-[3px] text-red sm:col-start-3">{{ line.label }}</b>
        <span class="col-start-2 pb-1 text-sm sm:col-start-4 sm:pt-[6px] sm:text-right">
          <RouterLink v-if="line.item?.rule" :to="`/rules/${line.item.rule.id}`">{{ line.item.rule.name }}</RouterLink>
        </span>
      </li>
    </ol>
  </section>
</template>

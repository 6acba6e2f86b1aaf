<script setup lang="ts">
import { computed } from 'vue'
import { useDates } from '@/lib/dates'
import { howOftenWords, several, wayWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import { looksAtDays, referencesOf, type Rule, type Trigger } from './model'
import TimerLine from './TimerLine.vue'

/** What the rule watches, and how often it may run. */
const props = defineProps<{ kind: Kind; disabled?: boolean }>()
const rule = defineModel<Rule>({ required: true })
const { setup, people } = useSetup()
const { today } = useDates()

const trigger = computed(() => setup.value.vocabulary.triggers.find((one) => one.name === rule.value.trigger.when))
const stageTrigger = (takes: Record<string, string>) => Object.values(takes).includes('stages')
const triggers = computed(() =>
  setup.value.vocabulary.triggers
    .filter((one) => props.kind.stages.length || !stageTrigger(one.takes))
    .map((one) => ({
      value: one.name,
      words: stageTrigger(one.takes) ? `${props.kind.stage_label} ${one.words}` : one.words,
    })),
)
const own = computed(() =>
  referencesOf(props.kind, [], 0).filter(
    (one) =>
      !['changed', 'made', 'creator', 'last_contact', 'stage_since'].includes(one.field.key) && !one.field.formula,
  ),
)
const field = computed(() => props.kind.fields.find((one) => one.key === rule.value.trigger.field))
const listed = computed(() => {
  if (field.value?.type === 'person') return people.value.map((one) => ({ value: one.key, words: one.name }))
  if (field.value?.type === 'yes_no')
    return [
      { value: 'yes', words: 'yes' },
      { value: 'no', words: 'no' },
    ]
  return (field.value?.choices ?? []).map((choice) => ({ value: choice.key, words: choice.label }))
})
const TYPED = ['text', 'long_text', 'number', 'money', 'date', 'email', 'phone', 'url']
const typed = computed(() => !!field.value && TYPED.includes(field.value.type))
/** Values of a change that are written, with semicolons between them. */
function writeValues(name: 'from' | 'to', event: Event) {
  const words = (event.target as HTMLInputElement).value.split(';').map((one) => one.trim())
  setting(name, words.filter(Boolean))
}
const timer = computed(() => trigger.value?.timer ?? false)
/** What a timer says before anything is decided. */
function usualTimer(when: string): Partial<Trigger> {
  const date = own.value.find((one) => ['date', 'datetime'].includes(one.field.type))?.path ?? 'made'
  if (when === 'date_timer')
    return { date: { count: 7, unit: 'days', direction: 'before', from: date, at: '08:00', day_off: 'earlier' } }
  if (when === 'quiet_timer') return { nothing: ['contact'], span: { count: 5, unit: 'working_days' }, at: '09:00' }
  return { recurs: 'FREQ=MONTHLY;BYMONTHDAY=1', starts: today(), at: '08:00', day_off: 'later' }
}
const often = computed(() =>
  setup.value.vocabulary.how_often
    .filter((one) => one !== 'once_per_task' || trigger.value?.task || rule.value.trigger.task)
    .map((one) => ({
      value: one,
      words:
        one === 'once_per_visit' ? `Once per visit to the ${props.kind.stage_label.toLowerCase()}` : howOftenWords(one),
    })),
)

const put = (changes: Partial<Rule>) => (rule.value = { ...rule.value, ...changes })
function choose(when: string) {
  const found = setup.value.vocabulary.triggers.find((one) => one.name === when)
  const takes = found?.takes ?? {}
  const trigger = {
    when,
    ...(stageTrigger(takes) ? { stages: rule.value.trigger.stages ?? [] } : {}),
    ...('code' in takes ? { code: '!' } : {}),
    ...('lists' in takes ? { lists: [] } : {}),
    ...(found?.timer ? usualTimer(when) : {}),
  }
  const { run: _run, ...rest } = rule.value
  const early = found?.before_save && rule.value.run
  // A finish counts once for each task unless the rule says every time.
  const how_often = found?.task ? 'once_per_task' : rest.how_often === 'once_per_task' ? 'every_time' : rest.how_often
  rule.value = { ...(early ? rule.value : rest), trigger, ...(how_often ? { how_often } : {}) }
}
type Several =
  'what' | 'answers' | 'stages' | 'from' | 'to' | 'kinds' | 'lists' | 'ways' | 'persons' | 'teams' | 'roles'
function setting(name: Several, values: string[]) {
  const next = { ...rule.value.trigger }
  if (values.length || name === 'stages' || name === 'lists') next[name] = values
  else delete next[name]
  put({ trigger: next })
}
const watch = (path: string | undefined) =>
  put({ trigger: { when: rule.value.trigger.when, ...(path ? { field: path } : {}) } })

function answers(event: Event) {
  const words = (event.target as HTMLInputElement).value.split(',').map((one) => one.trim())
  setting('answers', words.filter(Boolean))
}
const parts = (event: Event) =>
  put({ trigger: { ...rule.value.trigger, parts: (event.target as HTMLInputElement).checked || undefined } })
const WHAT = [
  { value: 'assignee', words: 'who does it' },
  { value: 'due', words: 'the due date' },
  { value: 'priority', words: 'the priority' },
  { value: 'state', words: 'the state' },
]

/** Settings that are several of a few: what they are called, and what can be chosen. */
const lists = computed<Record<string, { before: string; blank: string; options: { value: string; words: string }[] }>>(
  () => ({
    kinds: {
      before: 'of kind',
      blank: 'any kind',
      options: setup.value.kinds.map((one) => ({ value: one.key, words: one.label })),
    },
    lists: {
      before: '',
      blank: 'Choose a list',
      options: setup.value.kinds
        .filter((one) => one.about === props.kind.key)
        .map((one) => ({ value: one.key.replace('entry/', ''), words: one.plural })),
    },
    ways: {
      before: '',
      blank: 'of any kind',
      options: setup.value.interactions.map((way) => ({ value: way, words: wayWords(way) })),
    },
    persons: {
      before: 'by',
      blank: 'any person',
      options: people.value.map((one) => ({ value: one.key, words: one.name })),
    },
    teams: {
      before: 'or of team',
      blank: 'any team',
      options: setup.value.teams.map((one) => ({ value: one.key, words: one.name })),
    },
    person_fields: {
      before: 'or who is',
      blank: 'anybody',
      options: props.kind.fields
        .filter((one) => one.type === 'person' && !one.formula)
        .map((one) => ({ value: one.key, words: `the ${one.label.toLowerCase()}` })),
    },
  }),
)
const timing = computed(() => [
  { value: 'after_save', words: 'after the save' },
  ...(trigger.value?.before_save || rule.value.run === 'before_save'
    ? [{ value: 'before_save', words: 'before the save' }]
    : []),
])
function setTiming(run: string) {
  const { run: _gone, ...rest } = rule.value
  rule.value = run === 'before_save' ? { ...rest, run } : rest
}
function setOften(how_often: string) {
  const { every_days: _gone, ...rest } = rule.value
  rule.value = {
    ...rest,
    how_often,
    ...(how_often === 'once_in_days' ? { every_days: rule.value.every_days ?? 7 } : {}),
  }
}
const whole = (event: Event, most: number) =>
  Math.min(most, Math.max(0, Math.round(Number((event.target as HTMLInputElement).value) || 0)))
</script>

<template>
  <div class="flex flex-wrap items-center gap-[6px]">
    <SelectBox
      :model-value="rule.record"
      :options="setup.kinds.map((one) => ({ value: one.key, words: one.label }))"
      label="Kind of record"
      strong
      :disabled="disabled"
      @update:model-value="(record) => put({ record })"
    />
    <SelectBox
      :model-value="rule.trigger.when"
      :options="triggers"
      label="Trigger"
      :disabled="disabled"
      @update:model-value="choose"
    />
    <template v-for="(type, name) in timer ? {} : (trigger?.takes ?? {})" :key="name">
      <SeveralBox
        v-if="type === 'stages'"
        :model-value="rule.trigger.stages ?? []"
        :options="kind.stages.map((stage) => ({ value: stage.key, words: stage.label }))"
        :label="several(kind.stage_label)"
        :blank="`Choose a ${kind.stage_label.toLowerCase()}`"
        :disabled="disabled"
        @update:model-value="(keys) => setting('stages', keys)"
      />
      <FieldPicker
        v-else-if="type === 'field'"
        :model-value="rule.trigger.field"
        :references="own"
        label="Field that changes"
        blank="any field"
        class="w-40"
        @update:model-value="watch"
      />
      <label v-else-if="type === 'flag'" class="flex items-center gap-1 text-muted"
        ><input type="checkbox" :checked="rule.trigger.parts === true" :disabled="disabled" @change="parts" /> also
        parts of tasks</label
      >
      <SeveralBox
        v-else-if="name === 'what'"
        :model-value="rule.trigger.what ?? []"
        :options="WHAT"
        label="What changes"
        blank="anything of it"
        :disabled="disabled"
        @update:model-value="(keys) => setting('what', keys)"
      />
      <input
        v-else-if="name === 'answers'"
        class="input !w-52"
        :value="(rule.trigger.answers ?? []).join(', ')"
        aria-label="With the answer"
        placeholder="with any answer, or: Yes, Silent"
        :disabled="disabled"
        @change="answers"
      />
      <input
        v-else-if="type === 'code'"
        class="input !w-36 font-mono"
        :value="rule.trigger.code ?? ''"
        aria-label="Code"
        placeholder="!code"
        maxlength="40"
        :disabled="disabled"
        @input="put({ trigger: { ...rule.trigger, code: ($event.target as HTMLInputElement).value.trim() } })"
      />
      <template v-else-if="lists[type]">
        <span v-if="lists[type].before" class="text-muted">{{ lists[type].before }}</span>
        <SeveralBox
          :model-value="(rule.trigger[name as Several] ?? []) as string[]"
          :options="lists[type].options"
          :label="String(name)"
          :blank="lists[type].blank"
          :disabled="disabled"
          @update:model-value="(keys) => setting(name as Several, keys)"
        />
      </template>
      <template v-else-if="type === 'values' && field && listed.length">
        <span class="text-muted">{{ name }}</span>
        <SeveralBox
          :model-value="
            ((rule.trigger[name as 'from' | 'to'] ?? []) as unknown[]).map((one) =>
              one === true ? 'yes' : one === false ? 'no' : String(one),
            )
          "
          :options="listed"
          :label="name"
          blank="anything"
          :disabled="disabled"
          @update:model-value="(keys) => setting(name as 'from' | 'to', keys)"
        />
      </template>
      <template v-else-if="type === 'values' && typed">
        <span class="text-muted">{{ name }}</span>
        <input
          class="input !w-40"
          :value="((rule.trigger[name as 'from' | 'to'] ?? []) as unknown[]).join('; ')"
          :aria-label="`${field!.label} ${name}`"
          :placeholder="field!.type === 'date' ? 'anything, or 2026-12-03' : 'anything; several with ;'"
          :disabled="disabled"
          @change="writeValues(name as 'from' | 'to', $event)"
        />
      </template>
    </template>
    <span class="ml-2 text-muted">runs</span>
    <SelectBox
      :model-value="rule.run ?? 'after_save'"
      :options="timing"
      label="When it runs"
      :disabled="disabled"
      @update:model-value="setTiming"
    />
    <SelectBox
      :model-value="rule.how_often ?? 'every_time'"
      :options="often"
      label="How often"
      :disabled="disabled"
      @update:model-value="setOften"
    />
    <label v-if="rule.how_often === 'once_in_days'" class="flex items-center gap-1"
      ><input
        type="number"
        min="1"
        max="3650"
        class="input !w-[64px]"
        :value="rule.every_days"
        aria-label="In how many days"
        :disabled="disabled"
        @change="put({ every_days: Math.max(1, whole($event, 3650)) })"
      />
      <span class="text-muted">days</span></label
    >
    <span v-if="looksAtDays(rule, setup, kind)" class="w-full text-muted"
      >It also fires at the start of the day on which its conditions become true of themselves.</span
    >
    <TimerLine v-if="timer" v-model="rule" :kind="kind" :disabled="disabled" />
  </div>
</template>

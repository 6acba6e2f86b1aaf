<script setup lang="ts">
import { computed } from 'vue'
import { several, wayWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import { isTask, type Trigger } from './model'
import type { TriggerTakes } from './names'
import TimerLine from './TimerLine.vue'
import { changeable, useUsualTrigger } from './triggers'

/** One thing that a rule watches, with its settings. */
const props = defineProps<{ kind: Kind; label?: string; disabled?: boolean }>()
const trigger = defineModel<Trigger>({ required: true })
const { setup, people } = useSetup()
const usual = useUsualTrigger()

/** One of several says which it is in the name of each setting. */
const named = (what: string) => (props.label ? `${props.label}: ${what}` : what)
const known = computed(() => setup.value.vocabulary.triggers.find((one) => one.name === trigger.value.when))
const stageTrigger = (takes: Record<string, string>) => Object.values(takes).includes('stages')
const triggers = computed(() =>
  setup.value.vocabulary.triggers
    .filter((one) => (isTask(props.kind) ? one.of_task : props.kind.stages.length || !stageTrigger(one.takes)))
    .map((one) => ({
      value: one.name,
      words: isTask(props.kind)
        ? one.of_task!
        : stageTrigger(one.takes)
          ? `${props.kind.stage_label} ${one.words}`
          : one.words,
    })),
)
const own = computed(() => changeable(props.kind))
const field = computed(() => props.kind.fields.find((one) => one.key === trigger.value.field))
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
const timer = computed(() => known.value?.timer ?? false)

const put = (changes: Partial<Trigger>) => (trigger.value = { ...trigger.value, ...changes })
type Several =
  'what' | 'answers' | 'stages' | 'from' | 'to' | 'kinds' | 'lists' | 'ways' | 'persons' | 'teams' | 'roles'
function setting(name: Several, values: string[]) {
  const next = { ...trigger.value }
  if (values.length || name === 'stages' || name === 'lists') next[name] = values
  else delete next[name]
  trigger.value = next
}
const watch = (path: string | undefined) =>
  (trigger.value = { when: trigger.value.when, ...(path ? { field: path } : {}) })

function answers(event: Event) {
  const words = (event.target as HTMLInputElement).value.split(',').map((one) => one.trim())
  setting('answers', words.filter(Boolean))
}
const FLAGS = { parts: 'also parts of tasks', answered: 'only answers to our mails' }
type Flag = keyof typeof FLAGS
const flag = (name: Flag, event: Event) => put({ [name]: (event.target as HTMLInputElement).checked || undefined })
const WHAT = [
  { value: 'assignee', words: 'who does it' },
  { value: 'due', words: 'the due date' },
  { value: 'priority', words: 'the priority' },
  { value: 'state', words: 'the state' },
]

type Control = 'several' | 'stages' | 'field' | 'values' | 'code' | 'flag' | 'timer'
/** What shows each thing that a trigger takes; the compiler asks for one that is missing. */
const controls = {
  stages: 'stages',
  field: 'field',
  values: 'values',
  code: 'code',
  flag: 'flag',
  kinds: 'several',
  lists: 'several',
  ways: 'several',
  persons: 'several',
  teams: 'several',
  person_fields: 'several',
  date: 'timer',
  quiet: 'timer',
  own_fields: 'timer',
  span: 'timer',
  time: 'timer',
  recurrence: 'timer',
  day: 'timer',
  day_off: 'timer',
} satisfies Record<TriggerTakes, Control>

/** Settings that are several of a few: what they are called, and what can be chosen. */
type Listed = { [Taken in TriggerTakes]: (typeof controls)[Taken] extends 'several' ? Taken : never }[TriggerTakes]
const listOf = (type: TriggerTakes) => (controls[type] === 'several' ? lists.value[type as Listed] : undefined)
const lists = computed<Record<Listed, { before: string; blank: string; options: { value: string; words: string }[] }>>(
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
</script>

<template>
  <SelectBox
    :model-value="trigger.when"
    :options="triggers"
    :label="label ?? 'Trigger'"
    :disabled="disabled"
    @update:model-value="(when) => (trigger = usual(when, kind, trigger))"
  />
  <template v-for="(type, name) in timer ? {} : (known?.takes ?? {})" :key="name">
    <SeveralBox
      v-if="controls[type] === 'stages'"
      :model-value="trigger.stages ?? []"
      :options="kind.stages.map((stage) => ({ value: stage.key, words: stage.label }))"
      :label="named(several(kind.stage_label))"
      :blank="`Choose a ${kind.stage_label.toLowerCase()}`"
      :disabled="disabled"
      @update:model-value="(keys) => setting('stages', keys)"
    />
    <FieldPicker
      v-else-if="controls[type] === 'field'"
      :model-value="trigger.field"
      :references="own"
      :label="named('Field that changes')"
      blank="any field"
      class="w-40"
      @update:model-value="watch"
    />
    <label v-else-if="controls[type] === 'flag'" class="flex items-center gap-1 text-muted"
      ><input
        type="checkbox"
        :checked="trigger[name as Flag] === true"
        :disabled="disabled"
        @change="flag(name as Flag, $event)"
      />
      {{ FLAGS[name as Flag] }}</label
    >
    <SeveralBox
      v-else-if="name === 'what'"
      :model-value="trigger.what ?? []"
      :options="WHAT"
      :label="named('What changes')"
      blank="anything of it"
      :disabled="disabled"
      @update:model-value="(keys) => setting('what', keys)"
    />
    <input
      v-else-if="name === 'answers'"
      class="input !w-52"
      :value="(trigger.answers ?? []).join(', ')"
      :aria-label="named('With the answer')"
      placeholder="with any answer, or: Yes, Silent"
      :disabled="disabled"
      @change="answers"
    />
    <input
      v-else-if="controls[type] === 'code'"
      class="input !w-36 font-mono"
      :value="trigger.code ?? ''"
      :aria-label="named('Code')"
      placeholder="!code"
      maxlength="40"
      :disabled="disabled"
      @input="put({ code: ($event.target as HTMLInputElement).value.trim() })"
    />
    <template v-else-if="listOf(type)">
      <span v-if="listOf(type)!.before" class="text-muted">{{ listOf(type)!.before }}</span>
      <SeveralBox
        :model-value="(trigger[name as Several] ?? []) as string[]"
        :options="listOf(type)!.options"
        :label="named(String(name))"
        :blank="listOf(type)!.blank"
        :disabled="disabled"
        @update:model-value="(keys) => setting(name as Several, keys)"
      />
    </template>
    <template v-else-if="controls[type] === 'values' && field && listed.length">
      <span class="text-muted">{{ name }}</span>
      <SeveralBox
        :model-value="
          ((trigger[name as 'from' | 'to'] ?? []) as unknown[]).map((one) =>
            one === true ? 'yes' : one === false ? 'no' : String(one),
          )
        "
        :options="listed"
        :label="named(name)"
        blank="anything"
        :disabled="disabled"
        @update:model-value="(keys) => setting(name as 'from' | 'to', keys)"
      />
    </template>
    <template v-else-if="controls[type] === 'values' && typed">
      <span class="text-muted">{{ name }}</span>
      <input
        class="input !w-40"
        :value="((trigger[name as 'from' | 'to'] ?? []) as unknown[]).join('; ')"
        :aria-label="named(`${field!.label} ${name}`)"
        :placeholder="field!.type === 'date' ? 'anything, or 2026-12-03' : 'anything; several with ;'"
        :disabled="disabled"
        @change="writeValues(name as 'from' | 'to', $event)"
      />
    </template>
  </template>
  <TimerLine v-if="timer" v-model="trigger" :kind="kind" :disabled="disabled" />
</template>

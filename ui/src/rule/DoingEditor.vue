<script setup lang="ts">
import { leaveOut } from '@/lib/leaveOut'
import { computed } from 'vue'
import { sentenceCase, wayWords } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { formOf } from './actionForms'
import AssignEditor from './AssignEditor.vue'
import DateRuleEditor from './DateRuleEditor.vue'
import GroupEditor from './GroupEditor.vue'
import {
  targetKind,
  tasksBefore,
  taskSides,
  type Action,
  type Group,
  type Reference,
  type Setting,
  speaksOfTask,
  isTask,
  keptFor,
  withSaved,
} from './model'
import type { ActionTakes } from './names'
import SavedPicker from './SavedPicker.vue'
import SettingsEditor from './SettingsEditor.vue'
import TargetPicker from './TargetPicker.vue'
import TemplateInput from './TemplateInput.vue'

/** All that an action other than a task can say. Which settings there are comes from the vocabulary. */
const props = defineProps<{
  references: Reference[]
  kind: Kind
  earlier: Action[]
  wrong: Record<string, string>
}>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()

type Control =
  'target' | 'settings' | 'assign' | 'template' | 'group' | 'date' | 'keys' | 'choice' | 'kept' | 'own editor'
/** What shows each thing that an action takes; the compiler asks for one that is missing. */
const controls = {
  target: 'target',
  settings: 'settings',
  assign: 'assign',
  template: 'template',
  group: 'group',
  date: 'date',
  keys: 'keys',
  text: 'choice',
  ladder: 'own editor',
  receivers: 'own editor',
  readings: 'own editor',
  attach: 'own editor',
  kept: 'kept',
  flag: 'own editor',
  time: 'own editor',
} satisfies Record<ActionTakes, Control>
const takes = computed(() => {
  const taken = setup.value.vocabulary.actions.find((one) => one.name === action.value.action)?.takes ?? {}
  return Object.fromEntries(Object.entries(taken).map(([name, type]) => [name, controls[type]]))
})
const texts = computed(() => keptFor(setup.value.texts, props.kind))
const target = computed(() => targetKind(setup.value, props.kind, action.value.of, props.earlier))
const made = computed(() => setup.value.kinds.find((one) => one.key === action.value.kind))
const lists = computed(() => setup.value.kinds.filter((one) => one.about === target.value?.key))
const chosenList = computed(() => lists.value.find((one) => one.key === `entry/${action.value.list}`))

function put(changes: Record<string, unknown>) {
  const nothing = (value: unknown, key: string) => key !== 'text' && (value ?? '') === ''
  action.value = leaveOut({ ...action.value, ...changes }, nothing)
}
/** What stands where nothing was chosen. */
const usual = computed<Record<string, string | undefined>>(() => ({
  field: 'owner',
  on: choices.value.on!.options.at(-1)?.value,
}))
const settingOf = (name: string) => ({ ...action.value })[name as 'text'] ?? undefined
const pairs = (list: { key: string; label: string }[]) => list.map((one) => ({ value: one.key, words: one.label }))

/** Settings that are one of a few, and what these are. */
const choices = computed<Record<string, { label: string; options: { value: string; words: string }[] }>>(() => ({
  to: { label: target.value?.stage_label ?? 'Stage', options: pairs(target.value?.stages ?? []) },
  put: {
    label: 'On or off',
    options: [
      { value: 'on', words: 'Put on' },
      { value: 'off', words: 'Take off' },
    ],
  },
  list: {
    label: 'List',
    options: lists.value.map((one) => ({ value: one.key.replace('entry/', ''), words: one.plural })),
  },
  section: { label: 'Section', options: [{ value: '', words: 'the first' }, ...pairs(chosenList.value?.stages ?? [])] },
  kind: { label: 'Kind of record', options: setup.value.kinds.map((one) => ({ value: one.key, words: one.label })) },
  kit: {
    label: 'Kit',
    options: setup.value.kits
      .filter((one) => one.kind === target.value?.key)
      .map((one) => ({ value: one.key, words: one.name })),
  },
  only: {
    label: 'Which tasks',
    options: [
      { value: '', words: isTask(props.kind) ? 'all open tasks of its record' : 'all open tasks of the record' },
      ...(speaksOfTask(props.references)
        ? [{ value: 'this', words: isTask(props.kind) ? 'only this task' : 'only the task it watches' }]
        : []),
    ],
  },
  link: {
    label: `How it leads to this ${props.kind.label.toLowerCase()}`,
    options: [
      { value: '', words: 'by a plain link' },
      ...(made.value?.fields ?? [])
        .filter((field) => field.type === 'link' && field.links_to === props.kind.key)
        .map((field) => ({ value: field.key, words: field.label })),
    ],
  },
  field: {
    label: 'Which person',
    options: (target.value?.fields ?? [])
      .filter((field) => field.type === 'person' && field.key !== 'creator' && !field.formula)
      .map((field) => ({ value: field.key, words: field.label })),
  },
  way: { label: 'What it is', options: setup.value.interactions.map((way) => ({ value: way, words: wayWords(way) })) },
  on: { label: 'About which task', options: tasksBefore(props.earlier, speaksOfTask(props.references)) },
  priority: {
    label: 'Priority',
    options: [
      { value: '', words: 'stays' },
      ...setup.value.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) })),
    ],
  },
  state: {
    label: 'State',
    options: [
      { value: '', words: 'stays' },
      { value: 'started', words: 'Start them' },
      { value: 'done', words: 'Finish them' },
      { value: 'dropped', words: 'Drop them' },
    ],
  },
}))
const same = computed(() => {
  const here = props.kind.fields.filter(
    (field) => !field.formula && (!field.built_in || ['owner', 'stage', 'title'].includes(field.key)),
  )
  return here
    .filter((field) =>
      made.value?.fields.some((one) => one.key === field.key && one.type === field.type && !one.formula),
    )
    .map((field) => ({ value: field.key, words: field.label }))
})
/** Settings that name fields of the record. */
const keyed = computed<Record<string, { label: string; blank: string; options: { value: string; words: string }[] }>>(
  () => ({
    same: { label: 'Same as here', blank: 'no field', options: same.value },
    fields: {
      label: 'Shown at',
      blank: 'the whole record',
      options: props.kind.fields
        .filter((field) => !field.formula && (!field.built_in || ['owner', 'stage', 'title'].includes(field.key)))
        .map((field) => ({ value: field.key, words: field.label })),
    },
  }),
)
const form = computed(() => formOf(action.value.action))
</script>

<template>
  <template v-for="(type, name) in takes" :key="name">
    <TargetPicker
      v-if="type === 'target'"
      :model-value="action.of"
      :kind="kind"
      :earlier="earlier"
      label="About"
      :wrong="wrong.of"
      @update:model-value="(of) => put({ of })"
    />
    <SettingsEditor
      v-else-if="type === 'settings' && (name !== 'values' || action.action !== 'record' || made)"
      :model-value="action.values ?? []"
      :target="(action.action === 'record' ? made : target) ?? kind"
      :kind="kind"
      :references="references"
      :wrong="wrong.values"
      @update:model-value="(values: Setting[]) => put({ values })"
    />
    <AssignEditor
      v-else-if="type === 'assign'"
      :model-value="name === 'assign' ? action.assign : action.fallback"
      :label="name === 'assign' ? (form?.whom ?? 'To whom') : 'If that is nobody or away'"
      :references="references"
      :sure="name === 'fallback'"
      :people-only="!form?.anyone"
      :optional="name === 'fallback' || form?.anyone"
      :wrong="wrong[name]"
      @update:model-value="(way) => put({ [name]: way })"
    />
    <SavedPicker
      v-else-if="type === 'kept' && (texts.length || action.saved)"
      :model-value="action.saved"
      label="Its words"
      :options="texts"
      none="typed here"
      :wrong="wrong.saved ?? wrong['saved.key'] ?? wrong['saved.version']"
      @update:model-value="(saved) => (action = withSaved(action, saved))"
    />
    <FormRow
      v-else-if="type === 'template' && (name !== 'note' || action.state) && !action.saved"
      v-slot="{ id }"
      :label="form?.text ?? 'Text'"
      :wrong="wrong[name]"
    >
      <TemplateInput
        :id="id"
        :model-value="settingOf(name) ?? ''"
        :references="references"
        :kind="kind"
        :label="form?.text ?? 'Text'"
        long
        :invalid="!!wrong[name]"
        @update:model-value="(text) => put({ [name]: text })"
      />
    </FormRow>
    <FormRow v-else-if="type === 'group'" label="Which open tasks" :wrong="wrong.which" plain>
      <GroupEditor
        :model-value="action.which ?? { all: [] }"
        :references="taskSides(setup)"
        :kind="kind"
        plain
        @update:model-value="(which: Group) => put({ which })"
      />
    </FormRow>
    <DateRuleEditor
      v-else-if="type === 'date'"
      :model-value="action.due"
      label="Due date"
      :references="references"
      :wrong="wrong.due"
      @update:model-value="(due) => put({ due })"
    />
    <FormRow
      v-else-if="type === 'keys' && keyed[name]?.options.length"
      :label="keyed[name].label"
      :wrong="wrong[name]"
      plain
      ><SeveralBox
        :model-value="action[name as 'same' | 'fields'] ?? []"
        :options="keyed[name].options"
        :label="keyed[name].label"
        :blank="keyed[name].blank"
        wide
        @update:model-value="(keys) => put({ [name]: keys.length ? keys : undefined })"
    /></FormRow>
    <FormRow
      v-else-if="type === 'choice' && choices[name] && choices[name].options.length"
      :label="choices[name].label"
      :wrong="wrong[name]"
      plain
      ><SelectBox
        :model-value="settingOf(name) ?? usual[name] ?? ''"
        :options="choices[name].options"
        :label="choices[name].label"
        wide
        @update:model-value="(value) => put({ [name]: value })"
    /></FormRow>
    <p v-else-if="name === 'kit'" class="mb-3 text-amber">
      No kit is for {{ target?.plural.toLowerCase() ?? 'such records' }} yet.
      <RouterLink to="/kits">Write one</RouterLink> and publish it first.
    </p>
    <p v-else-if="name === 'list'" class="mb-3 text-amber">
      No list takes {{ target?.plural.toLowerCase() ?? 'such records' }}. Add one in the set-up first.
    </p>
  </template>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import { sentenceCase, wayWords } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import AssignEditor from './AssignEditor.vue'
import DateRuleEditor from './DateRuleEditor.vue'
import type { Action, Reference } from './model'
import TargetPicker from './TargetPicker.vue'
import PaperEditor from './PaperEditor.vue'
import TemplateInput from './TemplateInput.vue'

/** All that a task action can say. `wrong` holds sentences by the name of the setting. */
const props = defineProps<{
  references: Reference[]
  kind: Kind
  index: number
  earlier: Action[]
  wrong: Record<string, string>
}>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()

function put(changes: Partial<Action>) {
  const next = { ...action.value, ...changes } as Record<string, unknown>
  Object.keys(next).forEach((key) => (next[key] === undefined || next[key] === null) && delete next[key])
  action.value = next as unknown as Action
}
const optional = (text: string) => (text === '' ? undefined : text)
const needsFallback = computed(
  () =>
    setup.value.vocabulary.ways_to_assign.find((one) => one.name === action.value.assign?.to)?.needs_fallback ?? false,
)
const number = (event: Event) => Number((event.target as HTMLInputElement).value) || undefined
</script>

<template>
  <FormRow v-slot="{ id }" label="Title" :wrong="wrong.title">
    <TemplateInput
      :id="id"
      :model-value="action.title ?? ''"
      :references="references"
      :kind="kind"
      label="Title"
      :invalid="!!wrong.title"
      @update:model-value="(title) => put({ title })"
    />
  </FormRow>
  <FormRow v-slot="{ id }" label="Text" :wrong="wrong.text">
    <TemplateInput
      :id="id"
      :model-value="action.text ?? ''"
      :references="references"
      :kind="kind"
      label="Text"
      long
      :invalid="!!wrong.text"
      @update:model-value="(text) => put({ text: optional(text) })"
    />
  </FormRow>
  <TargetPicker
    :model-value="action.of"
    :kind="kind"
    :earlier="earlier"
    label="About"
    @update:model-value="(of) => put({ of })"
  />
  <div class="grid grid-cols-2 gap-x-3">
    <FormRow label="Answer by" plain
      ><SelectBox
        :model-value="action.way ?? 'other'"
        :options="setup.vocabulary.ways.map((way) => ({ value: way, words: wayWords(way) }))"
        label="Answer by"
        wide
        @update:model-value="(way) => put({ way })"
    /></FormRow>
    <FormRow label="Priority" plain
      ><SelectBox
        :model-value="action.priority ?? 'normal'"
        :options="setup.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) }))"
        label="Priority"
        wide
        @update:model-value="(priority) => put({ priority })"
    /></FormRow>
    <AssignEditor
      :model-value="action.assign"
      label="Goes to"
      :references="references"
      :wrong="wrong.assign"
      @update:model-value="(assign) => put({ assign })"
    />
    <AssignEditor
      v-if="needsFallback || action.fallback"
      :model-value="action.fallback"
      label="If that is nobody or away"
      :references="references"
      sure
      optional
      :wrong="wrong.fallback"
      @update:model-value="(fallback) => put({ fallback })"
    />
  </div>
  <DateRuleEditor
    :model-value="action.due"
    label="Due date"
    :references="references"
    :wrong="wrong.due"
    @update:model-value="(due) => put({ due })"
  />
  <DateRuleEditor
    :model-value="action.start"
    label="Start date"
    :references="references"
    :wrong="wrong.start"
    @update:model-value="(start) => put({ start })"
  />
  <DateRuleEditor
    :model-value="action.remind"
    label="Reminder"
    :references="references"
    :wrong="wrong.remind"
    @update:model-value="(remind) => put({ remind })"
  />
  <FormRow
    v-slot="{ id }"
    label="Answers it asks for, one a line"
    :wrong="wrong.answers"
    hint="At most nine. The person who does the task chooses one."
  >
    <LinesInput
      :id="id"
      :model-value="action.answers ?? []"
      @update:model-value="(answers) => put({ answers: answers.length ? answers : undefined })"
    />
  </FormRow>
  <div class="mb-3 grid gap-1">
    <label class="flex items-start gap-2"
      ><input
        type="checkbox"
        class="mt-[3px]"
        :checked="action.ask === true"
        @change="put({ ask: ($event.target as HTMLInputElement).checked || undefined })"
      />
      <span
        >Ask first: whoever caused it sees the filled-in task and sends it or throws it away.
        <span class="text-muted">A blank to fill in is written as ___.</span></span
      ></label
    >
    <label class="flex items-start gap-2"
      ><input
        type="checkbox"
        class="mt-[3px]"
        :checked="action.log === true"
        @change="put({ log: ($event.target as HTMLInputElement).checked || undefined })"
      />
      <span>When it is done, log it on the record as a call, e-mail, letter or meeting.</span></label
    >
  </div>
  <PaperEditor
    :model-value="action.paper"
    :kind="kind"
    :references="references"
    :wrong="wrong.paper"
    @update:model-value="(paper) => put({ paper })"
  />
  <FormRow v-slot="{ id }" label="Web link" :wrong="wrong.web_link">
    <input
      :id="id"
      class="input"
      :value="action.web_link ?? ''"
      placeholder="https://"
      @input="put({ web_link: optional(($event.target as HTMLInputElement).value) })"
    />
  </FormRow>
  <div class="grid grid-cols-2 gap-x-3">
    <FormRow v-slot="{ id }" label="Place in an order" :wrong="wrong.place"
      ><input
        :id="id"
        type="number"
        min="1"
        max="999"
        class="input"
        :value="action.place"
        @change="put({ place: number($event) })"
    /></FormRow>
    <FormRow v-if="props.index > 0" v-slot="{ id }" label="Part of action no." :wrong="wrong.under"
      ><input
        :id="id"
        type="number"
        min="1"
        :max="props.index"
        class="input"
        :value="action.under"
        @change="put({ under: number($event) })"
    /></FormRow>
  </div>
</template>

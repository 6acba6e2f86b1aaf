<script setup lang="ts">
import { computed } from 'vue'
import { sentenceCase, wayWords } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import AssignEditor from '@/rule/AssignEditor.vue'
import DateRuleEditor from '@/rule/DateRuleEditor.vue'
import type { Reference } from '@/rule/model'
import PaperEditor from '@/rule/PaperEditor.vue'
import TemplateInput from '@/rule/TemplateInput.vue'
import { useSetup, type Kind } from '@/state/setup'
import ComesEditor from './ComesEditor.vue'
import { numberOf, type Kit, type KitTask } from './model'
import OpeningEditor from './OpeningEditor.vue'

/** All that the template of a task can say. `wrong` holds sentences by the name of the setting. */
const props = defineProps<{
  kit: Kit
  kind: Kind
  references: Reference[]
  self: string | null
  wrong: Record<string, string>
}>()
const task = defineModel<KitTask>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const { setup } = useSetup()

function put(changes: Partial<KitTask>) {
  const next = { ...task.value, ...changes } as Record<string, unknown>
  Object.keys(next).forEach(
    (key) => (next[key] === undefined || next[key] === null || next[key] === '') && key !== 'title' && delete next[key],
  )
  task.value = next as unknown as KitTask
}
const needsFallback = computed(
  () =>
    setup.value.vocabulary.ways_to_assign.find((one) => one.name === task.value.assign?.to)?.needs_fallback ?? false,
)
const anchor = computed(() => props.kind.fields.find((field) => field.key === props.kit.from)?.label)
const froms = computed(() => [
  { value: 'comes', words: 'when it comes' },
  props.kit.count === 'back'
    ? { value: 'target', words: anchor.value ?? 'the target' }
    : { value: 'start', words: anchor.value ?? 'the start' },
])
const dated = computed(() => props.references.filter((one) => one.path !== props.kit.from))
</script>

<template>
  <div>
    <div class="mb-3 flex items-baseline justify-between">
      <h3>Task {{ numberOf(kit, task.key) }}</h3>
      <button type="button" class="link text-sm" @click="emit('remove')">Remove it</button>
    </div>
    <FormRow v-slot="{ id }" label="Title" :wrong="wrong.title">
      <TemplateInput
        :id="id"
        :model-value="task.title"
        :references="references"
        :kind="kind"
        label="Title"
        :invalid="!!wrong.title"
        @update:model-value="(title) => put({ title })"
      />
    </FormRow>
    <ComesEditor
      :model-value="task.after"
      :kit="kit"
      :task="task"
      :wrong="wrong.after"
      @update:model-value="(after) => put({ after })"
    />
    <DateRuleEditor
      :model-value="task.due"
      label="Due date"
      :references="dated"
      :froms="froms"
      :wrong="wrong.due"
      @update:model-value="(due) => put({ due })"
    />
    <AssignEditor
      :model-value="task.assign"
      label="Goes to, when it comes"
      :references="references"
      no-task
      :wrong="wrong.assign"
      @update:model-value="(assign) => put({ assign })"
    />
    <AssignEditor
      v-if="needsFallback || task.fallback"
      :model-value="task.fallback"
      label="If that is nobody or away"
      :references="references"
      sure
      optional
      :wrong="wrong.fallback"
      @update:model-value="(fallback) => put({ fallback })"
    />
    <FormRow
      v-slot="{ id }"
      label="Answers it asks for, one a line"
      :wrong="wrong.answers"
      hint="Other tasks can come after one of them."
    >
      <LinesInput
        :id="id"
        :model-value="task.answers ?? []"
        @update:model-value="(answers) => put({ answers: answers.length ? answers : undefined })"
      />
    </FormRow>
    <div class="grid grid-cols-2 gap-x-3">
      <FormRow label="Answer by" plain
        ><SelectBox
          :model-value="task.way ?? 'other'"
          :options="setup.vocabulary.ways.map((way) => ({ value: way, words: wayWords(way) }))"
          label="Answer by"
          wide
          @update:model-value="(way) => put({ way })"
      /></FormRow>
      <FormRow label="Priority" plain
        ><SelectBox
          :model-value="task.priority ?? 'normal'"
          :options="setup.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) }))"
          label="Priority"
          wide
          @update:model-value="(priority) => put({ priority })"
      /></FormRow>
    </div>
    <FormRow v-slot="{ id }" label="Text, what to say or do" :wrong="wrong.text">
      <TemplateInput
        :id="id"
        :model-value="task.text ?? ''"
        :references="references"
        :kind="kind"
        label="Text"
        long
        :invalid="!!wrong.text"
        @update:model-value="(text) => put({ text })"
      />
    </FormRow>
    <label class="mb-3 flex items-start gap-2"
      ><input
        type="checkbox"
        class="mt-[3px]"
        :checked="task.log === true"
        @change="put({ log: ($event.target as HTMLInputElement).checked || undefined })"
      />
      When it is done, log it on the record as a call, e-mail, letter or meeting.</label
    >
    <OpeningEditor
      :model-value="task.opens"
      :kind="kind"
      :references="references"
      :self="self"
      :wrong="wrong.opens"
      @update:model-value="(opens) => put({ opens })"
    />
    <DateRuleEditor
      :model-value="task.start"
      label="Start date"
      :references="dated"
      :froms="froms"
      :wrong="wrong.start"
      @update:model-value="(start) => put({ start })"
    />
    <DateRuleEditor
      :model-value="task.remind"
      label="Reminder"
      :references="dated"
      :froms="froms"
      :wrong="wrong.remind"
      @update:model-value="(remind) => put({ remind })"
    />
    <PaperEditor
      :model-value="task.paper"
      :kind="kind"
      :references="references"
      :wrong="wrong.paper"
      @update:model-value="(paper) => put({ paper })"
    />
    <FormRow v-slot="{ id }" label="Web link" :wrong="wrong.web_link">
      <input
        :id="id"
        class="input"
        :value="task.web_link ?? ''"
        placeholder="https://"
        @input="put({ web_link: ($event.target as HTMLInputElement).value })"
      />
    </FormRow>
  </div>
</template>

<script setup lang="ts">
import { leaveOut } from '@/lib/leaveOut'
import { computed } from 'vue'
import { sentenceCase, unitWords } from '@/lib/words'
import ClockInput from '@/parts/ClockInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import AssignEditor from './AssignEditor.vue'
import { moved, type Action, type LadderStep, type Reference, speaksOfTask, tasksBefore } from './model'
import TemplateInput from './TemplateInput.vue'

/** What happens, step by step, to a task that nobody finishes. */
const props = defineProps<{ references: Reference[]; kind: Kind; earlier: Action[]; wrong: Record<string, string> }>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()
const CLOCKED = ['minutes', 'hours', 'working_hours']
const DOES: Record<string, string> = {
  remind: 'remind whoever has it',
  raise: 'raise the priority',
  pass_on: 'pass it on',
  drop: 'drop it',
}

const steps = computed(() => action.value.steps ?? [])
const withTask = computed(() => speaksOfTask(props.references))
const tasks = computed(() => tasksBefore(props.earlier, withTask.value))
const on = computed(() => action.value.on ?? tasks.value.at(-1)?.value ?? 'this')

const put = (steps: LadderStep[]) => (action.value = { ...action.value, steps })
function set(index: number, changes: Partial<LadderStep>) {
  const next = leaveOut({ ...steps.value[index]!, ...changes }, (value) => value === undefined || value === '')
  put(steps.value.map((one, at) => (at === index ? next : one)))
}
function setAfter(index: number, changes: Partial<LadderStep['after']>) {
  const after = { ...steps.value[index]!.after, ...changes }
  if (!after.at || CLOCKED.includes(after.unit)) delete after.at
  set(index, { after })
}
/** A step that does something else, with what that needs. */
function stepOf(after: LadderStep['after'], does: string): LadderStep {
  const lead = setup.value.people.find((one) => one.role === 'lead')?.key ?? ''
  return does === 'pass_on' ? { after, do: does, assign: { to: 'person', person: lead } } : { after, do: does }
}
const choose = (index: number, does: string) =>
  put(steps.value.map((one, at) => (at === index ? stepOf(one.after, does) : one)))
function add() {
  const last = steps.value.at(-1)?.after
  const at = last && !last.at ? {} : { at: last?.at ?? '09:00' }
  const after = { count: (last?.count ?? 0) + 1, unit: last?.unit ?? 'working_days', from: 'due', ...at }
  put([...steps.value, stepOf(after, ['remind', 'raise', 'pass_on', 'drop'][Math.min(steps.value.length, 2)]!)])
}
const remove = (index: number) => put(steps.value.filter((_, at) => at !== index))
const count = (event: Event) =>
  Math.min(1000, Math.max(0, Math.round(Number((event.target as HTMLInputElement).value) || 0)))
const wrongIn = (index: number) =>
  Object.entries(props.wrong)
    .filter(([name]) => name.startsWith(`steps.${index}`))
    .map(([, text]) => text)
    .join(' ')
</script>

<template>
  <p class="mb-3 text-muted">Each step looks first whether the task is still open. It all ends when the task does.</p>
  <FormRow label="Which task" :wrong="wrong.on" plain
    ><SelectBox
      v-if="tasks.length"
      :model-value="on"
      :options="tasks"
      label="Which task"
      wide
      @update:model-value="(value) => (action = { ...action, on: value })"
    />
    <span v-else class="text-amber">Put it behind an action that makes a task.</span>
  </FormRow>
  <ol>
    <li
      v-for="(step, index) in steps"
      :key="index"
      class="mb-2 border border-line p-2"
      :data-test="`step-${index + 1}`"
    >
      <div class="flex flex-wrap items-center gap-2">
        <b>{{ index + 1 }}</b>
        <input
          type="number"
          min="0"
          max="1000"
          class="input !w-[60px]"
          :value="step.after.count"
          :aria-label="`Step ${index + 1}: after how many`"
          @change="setAfter(index, { count: count($event) })"
        />
        <SelectBox
          :model-value="step.after.unit"
          :options="setup.vocabulary.units.map((unit) => ({ value: unit, words: unitWords(unit) }))"
          :label="`Step ${index + 1}: unit`"
          @update:model-value="(unit) => setAfter(index, { unit })"
        />
        <SelectBox
          :model-value="step.after.from ?? 'due'"
          :options="[
            { value: 'due', words: 'after it is due' },
            { value: 'made', words: 'after it was made' },
            { value: 'now', words: 'after the step before' },
          ]"
          :label="`Step ${index + 1}: after what`"
          @update:model-value="(from) => setAfter(index, { from })"
        />
        <label v-if="!CLOCKED.includes(step.after.unit)" class="flex items-center gap-2 text-muted"
          >at
          <ClockInput
            :model-value="step.after.at ?? ''"
            :label="`Step ${index + 1}: time of day`"
            @update:model-value="(at) => setAfter(index, { at })"
        /></label>
      </div>
      <div class="mt-2 flex flex-wrap items-center gap-2">
        <SelectBox
          :model-value="step.do"
          :options="setup.vocabulary.ladder.map((one) => ({ value: one, words: DOES[one] ?? one }))"
          :label="`Step ${index + 1}: what`"
          @update:model-value="(does) => choose(index, does)"
        />
        <SelectBox
          v-if="step.do === 'raise'"
          :model-value="step.priority ?? ''"
          :options="[
            { value: '', words: 'one level up' },
            ...setup.vocabulary.priorities.map((one) => ({ value: one, words: `to ${sentenceCase(one)}` })),
          ]"
          :label="`Step ${index + 1}: to which priority`"
          @update:model-value="(priority) => set(index, { priority: priority || undefined })"
        />
        <span class="ml-auto flex gap-2 text-sm">
          <button v-if="index" type="button" class="link" @click="put(moved(steps, index, -1))">Up</button>
          <button type="button" class="link" :aria-label="`Remove step ${index + 1}`" @click="remove(index)">
            Remove
          </button>
        </span>
      </div>
      <template v-if="step.do === 'pass_on'">
        <AssignEditor
          class="mt-2"
          :model-value="step.assign"
          label="To whom"
          :references="references"
          @update:model-value="(assign) => set(index, { assign })"
        />
        <AssignEditor
          :model-value="step.fallback"
          label="If that is nobody or away"
          :references="references"
          sure
          optional
          @update:model-value="(fallback) => set(index, { fallback })"
        />
      </template>
      <FormRow
        v-if="['remind', 'drop'].includes(step.do)"
        v-slot="{ id }"
        :label="step.do === 'drop' ? 'Why' : 'What the notice says'"
        class="mt-2"
      >
        <TemplateInput
          :id="id"
          :model-value="step.text ?? ''"
          :references="references"
          :kind="kind"
          :label="`Step ${index + 1}: text`"
          @update:model-value="(text) => set(index, { text: text || undefined })"
        />
      </FormRow>
      <p v-if="wrongIn(index)" class="mt-1 text-sm text-red" role="alert">{{ wrongIn(index) }}</p>
    </li>
  </ol>
  <p v-if="wrong.steps" class="mb-2 text-sm text-red" role="alert">{{ wrong.steps }}</p>
  <button type="button" class="btn btn-quiet mb-3" @click="add">Add a step</button>
</template>

<script setup lang="ts">
import { leaveOut } from '@/lib/leaveOut'
import { computed } from 'vue'
import { unitWords } from '@/lib/words'
import ClockInput from '@/parts/ClockInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { everyKind, useSetup, type Kind } from '@/state/setup'
import DateRuleEditor from './DateRuleEditor.vue'
import { isTask, referencesOf, taskSides, type DateRule, type Trigger } from './model'
import RecurrenceEditor from './RecurrenceEditor.vue'
import { changeable } from './triggers'

/** When time pulls a rule: before or after a date, after a silence, or by the calendar. */
const props = defineProps<{ kind: Kind; disabled?: boolean; wrong?: Record<string, string> }>()
const trigger = defineModel<Trigger>({ required: true })
const { setup } = useSetup()
const CLOCKED = ['minutes', 'hours', 'working_hours']

const put = (changes: Partial<Trigger>) =>
  (trigger.value = leaveOut({ ...trigger.value, ...changes }, (value) => value === undefined || value === false))
const about = computed(() => (trigger.value.task || isTask(props.kind) ? 'task' : 'record'))
function setAbout(what: string) {
  const task = what === 'task' || undefined
  const date = trigger.value.date && { ...trigger.value.date, from: task ? 'due' : firstDate.value }
  put({
    task,
    ...(date ? { date } : {}),
    ...(task && trigger.value.when === 'quiet_timer' ? { nothing: undefined } : {}),
  })
}
const dates = computed(() =>
  (about.value === 'task' && !isTask(props.kind)
    ? taskSides(setup.value)
    : referencesOf(props.kind, everyKind(setup.value), isTask(props.kind) ? 1 : 2)
  ).filter((one) => ['date', 'datetime'].includes(one.field.type)),
)
const firstDate = computed(
  () =>
    referencesOf(props.kind, [], 0).find((one) => ['date', 'datetime'].includes(one.field.type) && !one.field.built_in)
      ?.path ?? 'made',
)
const own = computed(() => changeable(props.kind).map((one) => ({ value: one.path, words: one.label })))
const nothing = computed(() => trigger.value.nothing ?? [])
const span = computed(() => trigger.value.span ?? { count: 5, unit: 'working_days' })
const whole = (event: Event) =>
  Math.min(1000, Math.max(1, Math.round(Number((event.target as HTMLInputElement).value) || 1)))
function setSpan(changes: Partial<typeof span.value>) {
  const next = { ...span.value, ...changes }
  put({ span: next, at: CLOCKED.includes(next.unit) ? undefined : trigger.value.at })
}
</script>

<template>
  <div class="w-full" data-test="timer">
    <div v-if="trigger.when !== 'schedule'" class="flex flex-wrap items-center gap-[6px]">
      <SelectBox
        v-if="!isTask(kind)"
        :model-value="about"
        :options="[
          { value: 'record', words: `one timer for each ${kind.label.toLowerCase()}` },
          { value: 'task', words: 'one for each open task about it' },
        ]"
        label="What has a timer"
        :disabled="disabled"
        @update:model-value="setAbout"
      />
      <template v-if="trigger.when === 'quiet_timer'">
        <template v-if="about === 'record'">
          <span class="text-muted">when there is no</span>
          <SeveralBox
            :model-value="nothing"
            :options="setup.vocabulary.quiet.map((one) => ({ value: one.name, words: one.words }))"
            label="Nothing of this kind"
            blank="Choose what does not happen"
            :disabled="disabled"
            @update:model-value="(keys) => put({ nothing: keys })"
          />
          <SeveralBox
            v-if="nothing.includes('change')"
            :model-value="trigger.fields ?? []"
            :options="own"
            label="Fields whose change counts"
            blank="of any field"
            :disabled="disabled"
            @update:model-value="(keys) => put({ fields: keys.length ? keys : undefined })"
          />
        </template>
        <span v-else class="text-muted">when nothing is done about it</span>
        <SelectBox
          :model-value="trigger.people ? 'people' : 'anyone'"
          :options="[
            { value: 'anyone', words: 'by anyone' },
            { value: 'people', words: 'by people; what Yenvo does is not counted' },
          ]"
          label="By whom"
          :disabled="disabled"
          @update:model-value="(who) => put({ people: who === 'people' || undefined })"
        />
        <span class="text-muted">for</span>
        <input
          type="number"
          min="1"
          max="1000"
          class="input !w-[64px]"
          :value="span.count"
          aria-label="For how long"
          :disabled="disabled"
          @change="setSpan({ count: whole($event) })"
        />
        <SelectBox
          :model-value="span.unit"
          :options="setup.vocabulary.units.map((unit) => ({ value: unit, words: unitWords(unit) }))"
          label="Unit of the silence"
          :disabled="disabled"
          @update:model-value="(unit) => setSpan({ unit })"
        />
        <label v-if="!CLOCKED.includes(span.unit)" class="flex items-center gap-2 text-muted"
          >then at
          <ClockInput
            :model-value="trigger.at ?? ''"
            label="Time of day at which it fires"
            @update:model-value="(at) => put({ at: at || undefined })"
        /></label>
      </template>
    </div>
    <DateRuleEditor
      v-if="trigger.when === 'date_timer'"
      bare
      class="mt-2 max-w-[560px]"
      :model-value="trigger.date"
      label="When it fires"
      :references="[]"
      :froms="dates.map((one) => ({ value: one.path, words: one.label }))"
      :wrong="wrong?.date"
      fixed
      :disabled="disabled"
      @update:model-value="(date: DateRule | undefined) => date && put({ date })"
    />
    <RecurrenceEditor
      v-if="trigger.when === 'schedule'"
      :model-value="trigger"
      :kind="kind"
      :disabled="disabled"
      @update:model-value="(next: Trigger) => put(next)"
    />
  </div>
</template>

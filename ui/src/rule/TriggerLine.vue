<script setup lang="ts">
import { computed } from 'vue'
import { howOftenWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { isTask, looksAtDays, triggersOf, type Rule, type Trigger } from './model'
import type { TriggerName } from './names'
import OneTrigger from './OneTrigger.vue'
import { ABOUT_TASKS, isAtSave, MOST_TRIGGERS, notesOnSeveral, watchesTask, withKind, withTriggers } from './triggers'

/** What the rule watches, one thing or any of several, and how often it may run. */
const props = defineProps<{ kind: Kind; disabled?: boolean }>()
const rule = defineModel<Rule>({ required: true })
const { setup } = useSetup()

const kinds = computed(() =>
  [...setup.value.kinds, ...setup.value.subjects.filter(isTask)].map((one) => ({ value: one.key, words: one.label })),
)
const triggers = computed(() => triggersOf(rule.value))
const setAll = (next: Trigger[]) => (rule.value = withTriggers(setup.value, rule.value, next))
const setOne = (index: number, next: Trigger) => setAll(triggers.value.map((one, at) => (at === index ? next : one)))
const remove = (index: number) => setAll(triggers.value.filter((_, at) => at !== index))
/** Another beside those there are: the first of the usual ones that is not among them. */
function add() {
  const usual: TriggerName[] = isTask(props.kind)
    ? ['task_made', 'task_changed', 'task_done', 'task_dropped', 'task_late']
    : ['record_made', 'record_changed', 'by_hand', 'linked']
  const free = usual.find((when) => !triggers.value.some((one) => one.when === when))
  setAll([...triggers.value, { when: free ?? usual[1]! }])
}
const notes = computed(() => notesOnSeveral(setup.value, rule.value))
const often = computed(() =>
  setup.value.vocabulary.how_often
    .filter((one) =>
      isTask(props.kind) ? ABOUT_TASKS.includes(one) : one !== 'once_per_task' || watchesTask(setup.value, rule.value),
    )
    .map((one) => ({
      value: one,
      words:
        one === 'once_per_visit' ? `Once per visit to the ${props.kind.stage_label.toLowerCase()}` : howOftenWords(one),
    })),
)

const put = (changes: Partial<Rule>) => (rule.value = { ...rule.value, ...changes })
const timing = computed(() => [
  { value: 'after_save', words: 'after the save' },
  ...(isAtSave(setup.value, rule.value) || rule.value.run === 'before_save'
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
      :options="kinds"
      label="Kind of record"
      strong
      :disabled="disabled"
      @update:model-value="(record) => (rule = withKind(setup, rule, record))"
    />
    <template v-for="(one, index) in triggers" :key="index">
      <template v-if="index">
        <span class="h-0 basis-full" />
        <b class="min-w-6 font-semibold">or</b>
      </template>
      <OneTrigger
        :model-value="one"
        :kind="kind"
        :label="index ? `Trigger ${index + 1}` : undefined"
        :disabled="disabled"
        @update:model-value="(next) => setOne(index, next)"
      />
      <button
        v-if="!disabled && triggers.length > 1"
        type="button"
        class="link"
        :aria-label="`Remove trigger ${index + 1}`"
        @click="remove(index)"
      >
        Remove
      </button>
    </template>
    <button v-if="!disabled && triggers.length < MOST_TRIGGERS" type="button" class="link" @click="add">
      or another trigger
    </button>
    <span v-if="triggers.length > 1" class="h-0 basis-full" />
    <span class="text-muted" :class="{ 'ml-2': triggers.length === 1 }">runs</span>
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
    <span v-for="note in notes" :key="note" class="w-full text-muted">{{ note }}</span>
  </div>
</template>

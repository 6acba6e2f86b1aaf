<script setup lang="ts">
import { computed } from 'vue'
import { dayOffWords, firstDayWords, unitWords } from '@/lib/words'
import ClockInput from '@/parts/ClockInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import type { DateRule, Reference } from './model'

/**
 * N units before or after the run, the event or a date field, perhaps the first such day on or after that, at a time,
 * with what to do about days off, and what it is while the date field is empty.
 */
const props = defineProps<{
  label: string
  references: Reference[]
  wrong?: string
  froms?: { value: string; words: string }[]
  /** Whether there is always one. */
  fixed?: boolean
  /** Whether it stands for an empty date field, or waits for its date, so that nothing stands for it. */
  bare?: boolean
  disabled?: boolean
}>()
const value = defineModel<DateRule | undefined>({ required: true })
const { setup } = useSetup()
const CLOCKED = ['minutes', 'hours', 'working_hours']

const froms = computed(() => [
  ...baseFroms.value,
  ...props.references
    .filter((one) => ['date', 'datetime'].includes(one.field.type))
    .map((one) => ({ value: one.path, words: one.label })),
])
const usual = computed<DateRule>(() => ({
  count: 1,
  unit: 'working_days',
  direction: 'after',
  from: props.froms?.[0]?.value ?? 'event',
  ...(props.froms && !props.fixed ? {} : { day_off: 'later' }),
}))
function put(changes: Partial<DateRule>) {
  const next = { ...usual.value, ...value.value, ...changes }
  if (!next.day_off) delete next.day_off
  if (!next.at || CLOCKED.includes(next.unit)) delete next.at
  if (!next.first || CLOCKED.includes(next.unit)) delete next.first
  if (!next.otherwise || !fieldOf(next.from)) delete next.otherwise
  value.value = next
}
const fieldOf = (from: string | undefined) => props.references.find((one) => one.path === from)
const firsts = computed(() => [
  { value: '', words: 'on that day' },
  ...setup.value.vocabulary.first_days.map((day) => ({
    value: day,
    words: `on the first ${firstDayWords(day)} from then`,
  })),
  { value: 'month', words: 'on the next day of a month with number' },
])
/** What an empty date field is replaced by at first. */
const instead = (): DateRule => ({
  count: 5,
  unit: 'working_days',
  direction: 'after',
  from: baseFroms.value[0]!.value,
})
const baseFroms = computed(
  () =>
    props.froms ?? [
      { value: 'event', words: 'the event' },
      { value: 'now', words: 'the run' },
    ],
)
const dayOfMonth = (event: Event) =>
  put({ first: Math.min(31, Math.max(1, Math.round(Number((event.target as HTMLInputElement).value) || 1))) })
const count = (event: Event) =>
  put({ count: Math.min(1000, Math.max(0, Math.round(Number((event.target as HTMLInputElement).value) || 0))) })
</script>

<template>
  <fieldset class="mb-3 border border-line p-2" :disabled="disabled">
    <legend class="lab px-1">{{ label }}</legend>
    <button v-if="!value" type="button" class="link" @click="put({})">Set {{ label.toLowerCase() }}</button>
    <template v-else>
      <div class="flex flex-wrap items-center gap-2">
        <input
          type="number"
          min="0"
          max="1000"
          class="input !w-[64px]"
          :value="value.count"
          :aria-label="`${label}: how many`"
          @change="count"
        />
        <SelectBox
          :model-value="value.unit"
          :options="setup.vocabulary.units.map((unit) => ({ value: unit, words: unitWords(unit) }))"
          :label="`${label}: unit`"
          @update:model-value="(unit) => put({ unit })"
        />
        <!-- Where there is one thing to count from, it counts on from that. -->
        <template v-if="froms.length > 1">
          <SelectBox
            :model-value="value.direction ?? 'after'"
            :options="[
              { value: 'before', words: 'before' },
              { value: 'after', words: 'after' },
            ]"
            :label="`${label}: before or after`"
            @update:model-value="(direction) => put({ direction })"
          />
          <SelectBox
            :model-value="value.from ?? usual.from!"
            :options="froms"
            :label="`${label}: of what`"
            @update:model-value="(from) => put({ from })"
          />
        </template>
      </div>
      <div v-if="!CLOCKED.includes(value.unit)" class="mt-2 flex flex-wrap items-center gap-2">
        <SelectBox
          :model-value="typeof value.first === 'number' ? 'month' : (value.first ?? '')"
          :options="firsts"
          :label="`${label}: which day`"
          @update:model-value="(first) => put({ first: first === 'month' ? 1 : first || undefined })"
        />
        <input
          v-if="typeof value.first === 'number'"
          type="number"
          min="1"
          max="31"
          class="input !w-[64px]"
          :value="value.first"
          :aria-label="`${label}: day of the month`"
          @change="dayOfMonth"
        />
      </div>
      <div class="mt-2 flex flex-wrap items-center gap-2">
        <label v-if="!CLOCKED.includes(value.unit)" class="flex items-center gap-2 text-muted"
          >at
          <ClockInput
            :model-value="value.at ?? ''"
            :label="`${label}: time of day`"
            @update:model-value="(at) => put({ at })"
        /></label>
        <span class="flex items-center gap-2 text-muted"
          >a day off
          <SelectBox
            :model-value="value.day_off ?? (props.froms && !props.fixed ? '' : 'later')"
            :options="[
              ...(props.froms && !props.fixed ? [{ value: '', words: 'as the kit says' }] : []),
              ...setup.vocabulary.day_off.map((one) => ({ value: one, words: dayOffWords(one) })),
            ]"
            :label="`${label}: a day off`"
            @update:model-value="(day_off) => put({ day_off: day_off || undefined })"
          />
        </span>
        <button v-if="!fixed" type="button" class="link ml-auto text-sm" @click="value = undefined">
          No {{ label.toLowerCase() }}
        </button>
      </div>
    </template>
    <template v-if="value && !bare && fieldOf(value.from)">
      <button v-if="!value.otherwise" type="button" class="link mt-2 text-sm" @click="put({ otherwise: instead() })">
        Say what if {{ fieldOf(value.from)!.label }} is empty
      </button>
      <DateRuleEditor
        v-else
        class="mt-2 !mb-0"
        :model-value="value.otherwise"
        :label="`If ${fieldOf(value.from)!.label} is empty`"
        :references="references"
        :froms="froms.slice(0, baseFroms.length)"
        bare
        @update:model-value="(otherwise) => put({ otherwise })"
      />
    </template>
    <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
  </fieldset>
</template>

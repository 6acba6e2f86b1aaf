<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { dayOffWords } from '@/lib/words'
import ClockInput from '@/parts/ClockInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import type { Trigger } from './model'
import { readRecurrence, WEEKDAYS, writeRecurrence, type Recurring } from './recurrence'

/** Days of the calendar in plain words, with the next ten shown. What the words cannot say is written as RFC 5545. */
defineProps<{ kind: Kind; disabled?: boolean }>()
const trigger = defineModel<Trigger>({ required: true })
const { setup } = useSetup()
const { moment } = useDates()

const form = computed(() => readRecurrence(trigger.value.recurs ?? ''))
const byHand = ref(form.value === null && !!trigger.value.recurs)
const words = computed(() => form.value !== null && !byHand.value)
const put = (changes: Partial<Trigger>) => (trigger.value = { ...trigger.value, ...changes })
const change = (changes: Partial<Recurring>) => put({ recurs: writeRecurrence({ ...form.value!, ...changes }) })
const whole = (event: Event, most: number) =>
  Math.min(most, Math.max(1, Math.round(Number((event.target as HTMLInputElement).value) || 1)))

const UNITS = [
  { value: 'DAILY', words: 'day', many: 'days' },
  { value: 'WEEKLY', words: 'week', many: 'weeks' },
  { value: 'MONTHLY', words: 'month', many: 'months' },
  { value: 'YEARLY', words: 'year', many: 'years' },
]
const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
].map((month, index) => ({ value: String(index + 1), words: month }))
const DAYS = [
  ...Array.from({ length: 31 }, (_, index) => ({ value: String(index + 1), words: `day ${index + 1}` })),
  { value: '-1', words: 'the last day' },
]
const PLACES = [
  { value: '1', words: 'first' },
  { value: '2', words: 'second' },
  { value: '3', words: 'third' },
  { value: '4', words: 'fourth' },
  { value: '-1', words: 'last' },
  { value: '-2', words: 'last but one' },
]
const longer = computed(() => ['MONTHLY', 'YEARLY'].includes(form.value?.unit ?? ''))
function setUnit(unit: string) {
  change({ unit: unit as Recurring['unit'], weekdays: [], days: [], months: [], by: 'day' })
}

const next = shallowRef<Schemas['Firing']['at'][]>([])
const said = ref<string | null>(null)
const wrong = ref<string | null>(null)
watchDebounced(
  () => [trigger.value.recurs, trigger.value.starts, trigger.value.at, trigger.value.day_off],
  async () => {
    try {
      const { recurs = '', starts = '', at = '', day_off } = trigger.value
      const body = { recurs, starts, at, ...(day_off ? { day_off: day_off as 'later' } : {}) }
      const answer = await answerOf(api.POST('/api/try/recurrence', { body }))
      next.value = answer.next
      said.value = answer.words
      wrong.value = answer.problem && `It ${answer.problem}.`
    } catch (problem) {
      wrong.value = sentenceOf(problem)
    }
  },
  { immediate: true, debounce: 250 },
)
const once = computed(() => (trigger.value.once ? 'once' : 'each'))
</script>

<template>
  <fieldset class="mt-1 max-w-[640px] border border-line p-2" :disabled="disabled">
    <legend class="lab px-1">On which days</legend>
    <div v-if="words && form" class="flex flex-wrap items-center gap-2">
      <span class="text-muted">Every</span>
      <input
        type="number"
        min="1"
        max="999"
        class="input !w-[60px]"
        :value="form.every"
        aria-label="Every how many"
        @change="change({ every: whole($event, 999) })"
      />
      <SelectBox
        :model-value="form.unit"
        :options="UNITS.map((one) => ({ value: one.value, words: form!.every === 1 ? one.words : one.many }))"
        label="Days, weeks, months or years"
        @update:model-value="setUnit"
      />
      <template v-if="!longer">
        <span class="text-muted">on</span>
        <SeveralBox
          :model-value="form.weekdays"
          :options="WEEKDAYS"
          label="Weekdays"
          :blank="form.unit === 'DAILY' ? 'every weekday there is' : 'the weekday it starts on'"
          @update:model-value="(weekdays) => change({ weekdays })"
        />
      </template>
      <template v-else>
        <SelectBox
          :model-value="form.by"
          :options="[
            { value: 'day', words: 'on' },
            { value: 'place', words: 'on the' },
          ]"
          label="By date or by weekday"
          @update:model-value="(by) => change({ by: by as 'day' })"
        />
        <SeveralBox
          v-if="form.by === 'day'"
          :model-value="form.days.map(String)"
          :options="DAYS"
          label="Days of the month"
          blank="the day it starts on"
          @update:model-value="(days) => change({ days: days.map(Number).sort((one, other) => one - other) })"
        />
        <template v-else>
          <SelectBox
            :model-value="String(form.place)"
            :options="PLACES"
            label="Which one"
            @update:model-value="(place) => change({ place: Number(place) })"
          />
          <SelectBox
            :model-value="form.weekday"
            :options="[...WEEKDAYS, { value: 'work', words: 'weekday (Monday to Friday)' }]"
            label="Of which weekday"
            @update:model-value="(weekday) => change({ weekday })"
          />
        </template>
        <span class="text-muted">in</span>
        <SeveralBox
          :model-value="form.months.map(String)"
          :options="MONTHS"
          label="Months"
          :blank="form.unit === 'YEARLY' ? 'the month it starts in' : 'every such month'"
          @update:model-value="(months) => change({ months: months.map(Number).sort((one, other) => one - other) })"
        />
      </template>
    </div>
    <label v-else class="block"
      ><span class="lab">As RFC 5545 writes it</span>
      <input
        class="input font-mono"
        :value="trigger.recurs ?? ''"
        aria-label="Recurrence as RFC 5545 writes it"
        placeholder="FREQ=YEARLY;BYWEEKNO=20"
        maxlength="300"
        @change="put({ recurs: ($event.target as HTMLInputElement).value.trim() })"
    /></label>
    <div class="mt-2 flex flex-wrap items-center gap-2">
      <label class="flex items-center gap-2 text-muted"
        >at
        <ClockInput
          :model-value="trigger.at ?? ''"
          label="Time of day"
          @update:model-value="(at) => put({ at: at || undefined })"
      /></label>
      <label class="flex items-center gap-2 text-muted"
        >from
        <input
          type="date"
          class="input !w-[150px]"
          :value="trigger.starts ?? ''"
          aria-label="First day that counts"
          @change="put({ starts: ($event.target as HTMLInputElement).value })"
      /></label>
      <template v-if="words && form">
        <SelectBox
          :model-value="form.end"
          :options="[
            { value: 'never', words: 'for good' },
            { value: 'until', words: 'until' },
            { value: 'count', words: 'so many times' },
          ]"
          label="Until when"
          @update:model-value="(end) => change({ end: end as 'never', until: form!.until || (trigger.starts ?? '') })"
        />
        <input
          v-if="form.end === 'until'"
          type="date"
          class="input !w-[150px]"
          :value="form.until"
          aria-label="Last day"
          @change="change({ until: ($event.target as HTMLInputElement).value })"
        />
        <input
          v-if="form.end === 'count'"
          type="number"
          min="1"
          max="9999"
          class="input !w-[72px]"
          :value="form.count"
          aria-label="How many times"
          @change="change({ count: whole($event, 9999) })"
        />
      </template>
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-2">
      <span class="text-muted">a day off</span>
      <SelectBox
        :model-value="trigger.day_off ?? 'stays'"
        :options="setup.vocabulary.day_off.map((one) => ({ value: one, words: dayOffWords(one) }))"
        label="A day off"
        @update:model-value="(day_off) => put({ day_off })"
      />
      <SelectBox
        :model-value="once"
        :options="[
          { value: 'each', words: `for each ${kind.label.toLowerCase()} that meets “only if”` },
          { value: 'once', words: 'once, about no record' },
        ]"
        label="For each record or once"
        @update:model-value="(how) => put({ once: how === 'once' })"
      />
      <button
        v-if="form || !words"
        type="button"
        class="link ml-auto text-sm"
        :disabled="!words && !form"
        @click="byHand = words"
      >
        {{ words ? 'Write it as RFC 5545' : form ? 'In plain words' : '' }}
      </button>
    </div>
    <p v-if="wrong" class="mt-2 text-sm text-red" role="alert">{{ wrong }}</p>
    <template v-else-if="next.length">
      <p class="mt-2">
        <b>{{ said }}.</b> <span class="text-muted">The next {{ next.length }}:</span>
      </p>
      <ol class="mt-1 grid grid-cols-[repeat(auto-fill,minmax(120px,1fr))] gap-x-3" data-test="next-dates">
        <li v-for="at in next" :key="at" class="tabular-nums">{{ moment(at) }}</li>
      </ol>
    </template>
  </fieldset>
</template>

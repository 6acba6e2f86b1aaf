<script setup lang="ts">
import { computed } from 'vue'
import { dayOffWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import type { Kit } from './model'

/** What a kit is for, and what its dates count from. */
const props = defineProps<{ kind: Kind; fixed: boolean }>()
const kit = defineModel<Kit>({ required: true })
const { setup } = useSetup()

const put = (changes: Partial<Kit>) => (kit.value = { ...kit.value, ...changes })
const dates = computed(() =>
  props.kind.fields.filter((field) => ['date', 'datetime'].includes(field.type) && !field.formula),
)
const froms = computed(() => [
  ...(kit.value.count === 'back'
    ? []
    : [
        { value: 'event', words: 'the event' },
        { value: 'now', words: 'when it is used' },
      ]),
  ...dates.value.map((field) => ({ value: field.key, words: `${props.kind.label} · ${field.label}` })),
])
// What counted from the start counts from the target now, and the other way round.
function setCount(count: string) {
  const from = count === 'back' ? (dates.value.find((field) => !field.built_in)?.key ?? '') : 'event'
  const text = JSON.stringify(kit.value.phases)
  const other =
    count === 'back'
      ? text.replaceAll('"from":"start"', '"from":"target"')
      : text.replaceAll('"from":"target"', '"from":"start"')
  put({ count, from, phases: JSON.parse(other) as Kit['phases'] })
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-[6px] border-b border-line bg-paper px-3 py-[10px] sm:px-5">
    <span class="lab">For a</span>
    <SelectBox
      :model-value="kit.record"
      :options="setup.kinds.map((one) => ({ value: one.key, words: one.label }))"
      label="Kind of record"
      strong
      :disabled="fixed"
      @update:model-value="(record) => put({ record })"
    />
    <span class="lab ml-2">Dates count</span>
    <SelectBox
      :model-value="kit.count ?? 'forward'"
      :options="[
        { value: 'forward', words: 'forward from' },
        { value: 'back', words: 'back from' },
      ]"
      label="Dates count"
      :disabled="fixed"
      @update:model-value="setCount"
    />
    <SelectBox
      :model-value="kit.from ?? 'event'"
      :options="froms"
      label="From what"
      blank="Choose a date field"
      strong
      :disabled="fixed"
      @update:model-value="(from) => put({ from })"
    />
    <span class="lab ml-2">A day off</span>
    <SelectBox
      :model-value="kit.day_off ?? 'later'"
      :options="setup.vocabulary.day_off.map((one) => ({ value: one, words: dayOffWords(one) }))"
      label="A day off"
      :disabled="fixed"
      @update:model-value="(day_off) => put({ day_off })"
    />
    <template v-if="!['event', 'now'].includes(kit.from ?? '')">
      <span class="lab ml-2">If it moves</span>
      <SelectBox
        :model-value="kit.moves ?? 'follow'"
        :options="[
          { value: 'follow', words: 'open tasks follow' },
          { value: 'stay', words: 'dates stay' },
        ]"
        label="If it moves"
        :disabled="fixed"
        @update:model-value="(moves) => put({ moves })"
      />
    </template>
  </div>
</template>

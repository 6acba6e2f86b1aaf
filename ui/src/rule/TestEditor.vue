<script setup lang="ts">
import { computed, watchEffect } from 'vue'
import { unitWords } from '@/lib/words'
import FieldInput from '@/parts/FieldInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Field, type Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import { formulaProblem, formulaSide, lookUpFormula } from './formulas'
import { isFormula, isOther, isSpan, type Item, type Reference } from './model'
import type { TestName, TestTakes } from './names'

/** What is asked of a left side, and what it is held against, with the right control for its type. */
const props = defineProps<{ references: Reference[]; kind: Kind }>()
const item = defineModel<Item>({ required: true })
const { setup, people } = useSetup()

watchEffect(() => void lookUpFormula(item.value.field, props.kind))
const reference = computed(
  () =>
    props.references.find((one) => one.path === item.value.field) ??
    (isFormula(item.value.field) ? formulaSide(item.value.field!, props.kind) : null),
)
const wrong = computed(() => (item.value.field ? formulaProblem(item.value.field, props.kind) : null))
const field = computed<Field | undefined>(() => {
  const found = reference.value?.field
  if (found?.type === 'choices') return { ...found, type: 'choice' }
  return found?.type === 'long_text' ? { ...found, type: 'text' } : found
})
const kept = computed(
  () => reference.value !== null && !/[.=]|^today$/.test(item.value.field ?? '') && !reference.value.field.formula,
)
const tests = computed(() =>
  setup.value.vocabulary.tests.filter(
    (test) => reference.value && test.types.includes(reference.value.field.type) && (kept.value || !test.own_only),
  ),
)
const test = computed(() => tests.value.find((one) => one.name === item.value.test))
const listed = computed(() => ['choice', 'person'].includes(field.value?.type ?? ''))
const options = computed(() => {
  if (field.value?.type === 'person') return people.value.map((one) => ({ value: one.key, words: one.name }))
  return (field.value?.choices ?? []).map((choice) => ({ value: choice.key, words: choice.label }))
})
const textual = computed(() => ['text', 'long_text', 'url', 'email', 'phone'].includes(field.value?.type ?? ''))
const family = (type: string | undefined) =>
  ['text', 'long_text', 'url', 'email', 'phone'].includes(type ?? '') ? 'text' : type === 'money' ? 'number' : type
const others = computed(() =>
  props.references.filter(
    (one) => one.path !== item.value.field && family(one.field.type) === family(field.value?.type),
  ),
)
const comparable = computed(() => test.value?.takes === 'one' && !test.value.own_only && others.value.length > 0)
const other = computed(() => (isOther(item.value.value) ? item.value.value.field : null))
const span = computed(() => (isSpan(item.value.value) ? item.value.value : { count: 0, unit: 'days' }))

// Numbers are kept as numbers, so that a rule file reads as people would write it.
const read = (value: unknown) =>
  ['number', 'money'].includes(field.value?.type ?? '') &&
  typeof value === 'string' &&
  /^-?\d+(\.\d+)?$/.test(value.trim())
    ? Number(value)
    : value
const values = computed(() => (Array.isArray(item.value.value) ? item.value.value : []) as unknown[])
const typed = computed({
  get: () => values.value.join(', '),
  set: (text) =>
    put(
      text
        .split(',')
        .map((one) => read(one.trim()))
        .filter((one) => one !== ''),
    ),
})

/** What shows what a test takes; the compiler asks for one that is missing. */
const controls = {
  nothing: 'none',
  one: 'value',
  many: 'list',
  pair: 'pair',
  span: 'span',
} satisfies Record<TestTakes, string>
const control = computed(() => test.value && controls[test.value.takes])

function put(value: unknown) {
  const next: Item = { field: item.value.field, test: item.value.test, ...(item.value.exact ? { exact: true } : {}) }
  if (value !== null && value !== undefined && value !== '') next.value = value as Item['value']
  item.value = next
}
function chooseTest(name: TestName) {
  const before = test.value?.takes
  const after = tests.value.find((one) => one.name === name)?.takes
  const keep = before === after && item.value.value !== undefined
  item.value = {
    field: item.value.field,
    test: name,
    ...(keep ? { value: item.value.value } : after === 'span' ? { value: { count: 3, unit: 'working_days' } } : {}),
  }
}
function exact(on: boolean) {
  const { exact: _gone, ...rest } = item.value
  item.value = on ? { ...rest, exact: true } : rest
}
const pair = (place: number, value: unknown) =>
  put(Object.assign([values.value[0] ?? null, values.value[1] ?? null], { [place]: read(value) }))
const count = (event: Event) =>
  put({
    ...span.value,
    count: Math.min(1000, Math.max(0, Math.round(Number((event.target as HTMLInputElement).value) || 0))),
  })
</script>

<template>
  <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
  <div v-if="reference" class="mt-2 grid gap-2">
    <SelectBox
      :model-value="item.test ?? null"
      :options="tests.map((one) => ({ value: one.name, words: one.words }))"
      label="Test"
      wide
      @update:model-value="(name) => name && chooseTest(name)"
    />
    <template v-if="field && test">
      <FieldPicker
        v-if="other !== null"
        :model-value="other || undefined"
        :references="others"
        label="Field to compare with"
        @update:model-value="(path) => path && put({ field: path })"
      />
      <FieldInput
        v-else-if="control === 'value'"
        :model-value="item.value"
        :field="field"
        @update:model-value="(value) => put(read(value))"
      />
      <div v-else-if="control === 'span'" class="flex gap-2">
        <input
          type="number"
          min="0"
          max="1000"
          class="input !w-[72px]"
          :value="span.count"
          aria-label="How many"
          @change="count"
        />
        <SelectBox
          :model-value="span.unit"
          :options="setup.vocabulary.units.map((unit) => ({ value: unit, words: unitWords(unit) }))"
          label="Unit"
          @update:model-value="(unit) => put({ ...span, unit })"
        />
      </div>
      <SeveralBox
        v-else-if="control === 'list' && listed"
        :model-value="values as string[]"
        :options="options"
        :label="reference.label"
        wide
        @update:model-value="put"
      />
      <input
        v-else-if="control === 'list'"
        v-model.lazy="typed"
        class="input"
        :aria-label="`${reference.label}, values with commas between`"
        placeholder="Values with commas between"
      />
      <div v-else-if="control === 'pair'" class="grid gap-1">
        <FieldInput :model-value="values[0]" :field="field" @update:model-value="(value) => pair(0, value)" />
        <FieldInput :model-value="values[1]" :field="field" @update:model-value="(value) => pair(1, value)" />
      </div>
      <div class="flex flex-wrap gap-3 text-sm">
        <button v-if="comparable && other === null" type="button" class="link" @click="put({ field: '' })">
          Compare with another field
        </button>
        <button v-if="other !== null" type="button" class="link" @click="put(undefined)">Compare with a value</button>
        <label v-if="textual && test.takes !== 'nothing'" class="flex items-center gap-1"
          ><input
            type="checkbox"
            :checked="item.exact ?? false"
            @change="exact(($event.target as HTMLInputElement).checked)"
          />
          capitals count</label
        >
      </div>
    </template>
  </div>
</template>

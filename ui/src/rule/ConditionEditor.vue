<script setup lang="ts">
import { computed } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Field } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import type { Item, Reference } from './model'

/** One condition: a field, what is asked of it, and what it is held against, with the right control for its type. */
const props = defineProps<{ references: Reference[] }>()
const item = defineModel<Item>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const { setup, people } = useSetup()

const reference = computed(() => props.references.find((one) => one.path === item.value.field))
const field = computed<Field | undefined>(() => {
  const found = reference.value?.field
  if (found?.type === 'choices') return { ...found, type: 'choice' }
  return found?.type === 'long_text' ? { ...found, type: 'text' } : found
})
const own = computed(() => !item.value.field?.includes('.'))
const tests = computed(() =>
  setup.value.vocabulary.tests.filter(
    (test) => reference.value && test.types.includes(reference.value.field.type) && (own.value || !test.own_only),
  ),
)
const test = computed(() => tests.value.find((one) => one.name === item.value.test))
const listed = computed(() => ['choice', 'person'].includes(field.value?.type ?? ''))
const options = computed(() => {
  if (field.value?.type === 'person') return people.value.map((one) => ({ value: one.key, words: one.name }))
  return (field.value?.choices ?? []).map((choice) => ({ value: choice.key, words: choice.label }))
})

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

function put(value: unknown) {
  const next: Item = { field: item.value.field, test: item.value.test }
  if (value !== null && value !== undefined && value !== '') next.value = value as Item['value']
  item.value = next
}
function chooseField(path: string | undefined) {
  if (!path) return
  const type = props.references.find((one) => one.path === path)?.field.type
  const usable = setup.value.vocabulary.tests.filter(
    (one) => one.types.includes(type ?? '') && (!path.includes('.') || !one.own_only),
  )
  const keep = usable.find((one) => one.name === item.value.test) ?? usable[0]
  item.value = { field: path, test: keep?.name }
}
function chooseTest(name: string) {
  const before = test.value?.takes
  const after = tests.value.find((one) => one.name === name)?.takes
  item.value = {
    field: item.value.field,
    test: name,
    ...(before === after && item.value.value !== undefined ? { value: item.value.value } : {}),
  }
}
const pair = (place: number, value: unknown) =>
  put(Object.assign([values.value[0] ?? null, values.value[1] ?? null], { [place]: read(value) }))
</script>

<template>
  <div class="mb-2 border border-line bg-paper p-2">
    <div class="flex items-center gap-2">
      <FieldPicker
        :model-value="item.field"
        :references="references"
        label="Field"
        class="min-w-0 flex-1"
        @update:model-value="chooseField"
      />
      <button type="button" class="link text-sm" aria-label="Remove this condition" @click="emit('remove')">
        Remove
      </button>
    </div>
    <div v-if="reference" class="mt-2 grid grid-cols-[auto_1fr] items-start gap-2">
      <SelectBox
        :model-value="item.test ?? null"
        :options="tests.map((one) => ({ value: one.name, words: one.words }))"
        label="Test"
        @update:model-value="(name) => name && chooseTest(name)"
      />
      <template v-if="field && test">
        <FieldInput
          v-if="test.takes === 'one'"
          :model-value="item.value"
          :field="field"
          @update:model-value="(value) => put(read(value))"
        />
        <SeveralBox
          v-else-if="test.takes === 'many' && listed"
          :model-value="values as string[]"
          :options="options"
          :label="reference.label"
          wide
          @update:model-value="put"
        />
        <input
          v-else-if="test.takes === 'many'"
          v-model.lazy="typed"
          class="input"
          :aria-label="`${reference.label}, values with commas between`"
          placeholder="Values with commas between"
        />
        <div v-else-if="test.takes === 'pair'" class="grid gap-1">
          <FieldInput :model-value="values[0]" :field="field" @update:model-value="(value) => pair(0, value)" />
          <FieldInput :model-value="values[1]" :field="field" @update:model-value="(value) => pair(1, value)" />
        </div>
      </template>
    </div>
  </div>
</template>

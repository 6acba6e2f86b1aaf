<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import RangeBox from '@/parts/RangeBox.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Field, type Kind } from '@/state/setup'
import HoldsBox from './HoldsBox.vue'
import { useListQuery } from './useListQuery'

/** Narrows a list by any field of its kind. Stage and owner are always there; every other can be added. */
const props = defineProps<{ kind: Kind }>()
const { people } = useSetup()
const { text, has, set } = useListQuery()
const ALWAYS = ['stage', 'owner']
const CHOSEN = ['choice', 'choices', 'person', 'yes_no']
const RANGED = ['number', 'money', 'date', 'datetime']
const added = ref<string[]>([])
watch(
  () => props.kind.key,
  () => (added.value = []),
)
const fields = computed(() => props.kind.fields.filter((field) => field.key !== 'changed'))
const names = (field: Field) => ['where', 'from', 'to', 'holds', 'is'].map((way) => `${way}.${field.key}`)
const narrows = (field: Field) => names(field).some((name) => has(name))
const shown = computed(() =>
  fields.value.filter((field) => [...ALWAYS, ...added.value].includes(field.key) || narrows(field)),
)
const addable = computed(() => fields.value.filter((field) => !shown.value.includes(field)))
const sort = (field: Field) =>
  CHOSEN.includes(field.type) ? 'chosen' : RANGED.includes(field.type) ? 'ranged' : 'holding'

const values = (field: Field) => {
  const none = { value: '', words: 'empty' }
  if (field.type === 'person') return [none, ...people.value.map((one) => ({ value: one.key, words: one.name }))]
  if (field.type === 'yes_no') return [none, { value: 'yes', words: 'yes' }, { value: 'no', words: 'no' }]
  return [
    ...(field.key === 'stage' ? [] : [none]),
    ...field.choices.map((choice) => ({ value: choice.key, words: choice.label })),
  ]
}
const chosen = (field: Field) => (has(`where.${field.key}`) ? text(`where.${field.key}`).split('|') : [])
const choose = (field: Field, keys: string[]) =>
  set({ [`where.${field.key}`]: keys.length ? keys.join('|') : undefined })
const range = (field: Field, from: string, to: string) =>
  set({ [`from.${field.key}`]: from || undefined, [`to.${field.key}`]: to || undefined })
const clear = (field: Field) => Object.fromEntries(names(field).map((name) => [name, undefined]))
const one = (field: Field, way: string, value: string) =>
  set({ ...clear(field), [`${way}.${field.key}`]: value || undefined })
defineExpose({ forget: () => (added.value = []) })
</script>

<template>
  <template v-for="field in shown" :key="field.key">
    <SeveralBox
      v-if="sort(field) === 'chosen'"
      :model-value="chosen(field)"
      :options="values(field)"
      :label="field.label"
      :blank="field.label"
      @update:model-value="(keys) => choose(field, keys)"
    />
    <RangeBox
      v-else-if="sort(field) === 'ranged'"
      :field="field"
      :from="text(`from.${field.key}`)"
      :to="text(`to.${field.key}`)"
      :filled="text(`is.${field.key}`)"
      @change="(from, to) => range(field, from, to)"
      @filled="(which) => one(field, 'is', which)"
    />
    <HoldsBox
      v-else
      :field="field"
      :holds="text(`holds.${field.key}`)"
      :filled="text(`is.${field.key}`)"
      :link="text(`where.${field.key}`)"
      @holds="(words) => one(field, 'holds', words)"
      @filled="(which) => one(field, 'is', which)"
      @link="(id) => one(field, 'where', id)"
    />
  </template>
  <SelectBox
    v-if="addable.length"
    :model-value="null"
    :options="addable.map((field) => ({ value: field.key, words: field.label }))"
    label="Filter by"
    blank="Filter by"
    @update:model-value="(key) => key && added.push(key)"
  />
</template>

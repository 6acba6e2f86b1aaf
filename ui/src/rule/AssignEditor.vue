<script setup lang="ts">
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import type { Assign, Reference } from './model'

/** A way to say who gets the task, with the settings of that way. `sure` offers only ways that always find someone. */
const props = defineProps<{
  label: string
  references: Reference[]
  sure?: boolean
  peopleOnly?: boolean
  noTask?: boolean
  optional?: boolean
  wrong?: string
}>()
const value = defineModel<Assign | undefined>({ required: true })
const { setup, people } = useSetup()

const ways = computed(() =>
  setup.value.vocabulary.ways_to_assign.filter(
    (way) =>
      (!props.sure || !way.needs_fallback) &&
      (!props.peopleOnly || way.name !== 'queue') &&
      (!props.noTask || (way.name !== 'task_assignee' && !way.of_rules)),
  ),
)
const way = computed(() => ways.value.find((one) => one.name === value.value?.to))
const options = computed(() => [
  ...(props.optional ? [{ value: '', words: 'nobody' }] : []),
  ...ways.value.map((one) => ({ value: one.name, words: one.words })),
])
const persons = computed(() => props.references.filter((one) => one.field.type === 'person'))

function choose(name: string) {
  if (!name) return (value.value = undefined)
  const takes = setup.value.vocabulary.ways_to_assign.find((one) => one.name === name)?.takes ?? {}
  const first: Record<string, string | string[] | undefined> = {
    person: people.value[0]?.key,
    queue: setup.value.queues[0]?.key,
    team: setup.value.teams[0]?.key,
    path: persons.value[0]?.path,
    persons: [],
    paths: [],
  }
  value.value = {
    to: name,
    ...Object.fromEntries(Object.entries(takes).map(([setting, type]) => [setting, first[type]])),
  } as Assign
}
const put = (setting: string, to: string | undefined) => to && (value.value = { ...value.value!, [setting]: to })
const settingOf = (setting: string) => (value.value as Record<string, string> | undefined)?.[setting]
</script>

<template>
  <FormRow :label="label" :wrong="wrong" plain>
    <div class="grid gap-1">
      <SelectBox :model-value="value?.to ?? ''" :options="options" :label="label" wide @update:model-value="choose" />
      <template v-for="(type, setting) in way?.takes ?? {}" :key="setting">
        <SelectBox
          v-if="type === 'person'"
          :model-value="settingOf(setting) ?? null"
          :options="people.map((one) => ({ value: one.key, words: one.name }))"
          :label="`${label}: who`"
          wide
          @update:model-value="(key) => put(setting, key ?? undefined)"
        />
        <SelectBox
          v-else-if="type === 'queue'"
          :model-value="settingOf(setting) ?? null"
          :options="setup.queues.map((one) => ({ value: one.key, words: one.name }))"
          :label="`${label}: queue`"
          wide
          @update:model-value="(key) => put(setting, key ?? undefined)"
        />
        <SelectBox
          v-else-if="type === 'team'"
          :model-value="settingOf(setting) ?? null"
          :options="setup.teams.map((one) => ({ value: one.key, words: one.name }))"
          :label="`${label}: team`"
          wide
          @update:model-value="(key) => put(setting, key ?? undefined)"
        />
        <SeveralBox
          v-else-if="type === 'persons'"
          :model-value="value?.persons ?? []"
          :options="people.map((one) => ({ value: one.key, words: one.name }))"
          :label="`${label}: persons`"
          blank="Choose persons"
          wide
          @update:model-value="(persons) => (value = { ...value!, persons })"
        />
        <SeveralBox
          v-else-if="type === 'paths'"
          :model-value="value?.fields ?? []"
          :options="persons.map((one) => ({ value: one.path, words: one.label }))"
          :label="`${label}: person fields`"
          blank="No person fields"
          wide
          @update:model-value="(fields) => (value = { ...value!, fields })"
        />
        <FieldPicker
          v-else
          :model-value="settingOf(setting)"
          :references="persons"
          :label="`${label}: field`"
          @update:model-value="(path) => put(setting, path)"
        />
      </template>
    </div>
  </FormRow>
</template>

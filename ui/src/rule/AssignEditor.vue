<script setup lang="ts">
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import type { Assign, Reference } from './model'
import type { WayName, WayTakes } from './names'

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
const options = computed<{ value: WayName | ''; words: string }[]>(() => [
  ...(props.optional ? [{ value: '' as const, words: 'nobody' }] : []),
  ...ways.value.map((one) => ({ value: one.name, words: one.words })),
])
const persons = computed(() => props.references.filter((one) => one.field.type === 'person'))

type Choice = { what: string; options: { value: string; words: string }[]; blank?: string; several?: boolean }
/** What each thing that a way takes is chosen from; the compiler asks for one that is missing. */
const choices = computed(() => {
  const named = (list: { key: string; name: string }[]) => list.map((one) => ({ value: one.key, words: one.name }))
  const fields = persons.value.map((one) => ({ value: one.path, words: one.label }))
  return {
    person: { what: 'who', options: named(people.value) },
    queue: { what: 'queue', options: named(setup.value.queues) },
    team: { what: 'team', options: named(setup.value.teams) },
    path: { what: 'field', options: fields },
    persons: { what: 'persons', options: named(people.value), blank: 'Choose persons', several: true },
    paths: { what: 'person fields', options: fields, blank: 'No person fields', several: true },
  } satisfies Record<WayTakes, Choice> as Record<WayTakes, Choice>
})

function choose(name: WayName | '') {
  if (!name) return (value.value = undefined)
  const takes = setup.value.vocabulary.ways_to_assign.find((one) => one.name === name)?.takes ?? {}
  const first = (type: WayTakes) => (choices.value[type].several ? [] : choices.value[type].options[0]?.value)
  value.value = {
    to: name,
    ...Object.fromEntries(Object.entries(takes).map(([setting, type]) => [setting, first(type)])),
  }
}
const put = (setting: string, to: string | string[] | undefined) =>
  to && (value.value = { ...value.value!, [setting]: to })
const settingOf = (setting: string) => value.value?.[setting as 'person']
const severalOf = (setting: string) => value.value?.[setting as 'persons'] ?? []
</script>

<template>
  <FormRow :label="label" :wrong="wrong" plain>
    <div class="grid gap-1">
      <SelectBox :model-value="value?.to ?? ''" :options="options" :label="label" wide @update:model-value="choose" />
      <template v-for="(type, setting) in way?.takes ?? {}" :key="setting">
        <FieldPicker
          v-if="type === 'path'"
          :model-value="settingOf(setting)"
          :references="persons"
          :label="`${label}: field`"
          @update:model-value="(path) => put(setting, path)"
        />
        <SeveralBox
          v-else-if="choices[type].several"
          :model-value="severalOf(setting)"
          :options="choices[type].options"
          :label="`${label}: ${choices[type].what}`"
          :blank="choices[type].blank!"
          wide
          @update:model-value="(keys) => put(setting, keys)"
        />
        <SelectBox
          v-else
          :model-value="settingOf(setting) ?? null"
          :options="choices[type].options"
          :label="`${label}: ${choices[type].what}`"
          wide
          @update:model-value="(key) => put(setting, key ?? undefined)"
        />
      </template>
    </div>
  </FormRow>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import { howOftenWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import { referencesOf, type Rule } from './model'

/** What the rule watches, and how often it may run. */
const props = defineProps<{ kind: Kind; disabled?: boolean }>()
const rule = defineModel<Rule>({ required: true })
const { setup, people } = useSetup()

const trigger = computed(() => setup.value.vocabulary.triggers.find((one) => one.name === rule.value.trigger.when))
const stageTrigger = (takes: Record<string, string>) => Object.values(takes).includes('stages')
const triggers = computed(() =>
  setup.value.vocabulary.triggers
    .filter((one) => props.kind.stages.length || !stageTrigger(one.takes))
    .map((one) => ({
      value: one.name,
      words: stageTrigger(one.takes) ? `${props.kind.stage_label} ${one.words}` : one.words,
    })),
)
const own = computed(() =>
  referencesOf(props.kind, [], 0).filter(
    (one) => !['changed', 'made', 'creator', 'last_contact'].includes(one.field.key),
  ),
)
const field = computed(() => props.kind.fields.find((one) => one.key === rule.value.trigger.field))
const listed = computed(() => {
  if (field.value?.type === 'person') return people.value.map((one) => ({ value: one.key, words: one.name }))
  if (field.value?.type === 'yes_no')
    return [
      { value: 'yes', words: 'yes' },
      { value: 'no', words: 'no' },
    ]
  return (field.value?.choices ?? []).map((choice) => ({ value: choice.key, words: choice.label }))
})
const often = computed(() =>
  setup.value.vocabulary.how_often.map((one) => ({
    value: one,
    words:
      one === 'once_per_visit' ? `Once per visit to the ${props.kind.stage_label.toLowerCase()}` : howOftenWords(one),
  })),
)

const put = (changes: Partial<Rule>) => (rule.value = { ...rule.value, ...changes })
function choose(when: string) {
  put({
    trigger: {
      when,
      ...(stageTrigger(setup.value.vocabulary.triggers.find((one) => one.name === when)?.takes ?? {})
        ? { stages: rule.value.trigger.stages ?? [] }
        : {}),
    },
  })
}
function setting(name: 'stages' | 'from' | 'to', values: string[]) {
  const next = { ...rule.value.trigger }
  if (values.length || name === 'stages') next[name] = values
  else delete next[name]
  put({ trigger: next })
}
const watch = (path: string | undefined) =>
  put({ trigger: { when: rule.value.trigger.when, ...(path ? { field: path } : {}) } })
</script>

<template>
  <div class="flex flex-wrap items-center gap-[6px]">
    <SelectBox
      :model-value="rule.record"
      :options="setup.kinds.map((one) => ({ value: one.key, words: one.label }))"
      label="Kind of record"
      strong
      :disabled="disabled"
      @update:model-value="(record) => put({ record })"
    />
    <SelectBox
      :model-value="rule.trigger.when"
      :options="triggers"
      label="Trigger"
      :disabled="disabled"
      @update:model-value="choose"
    />
    <template v-for="(type, name) in trigger?.takes ?? {}" :key="name">
      <SeveralBox
        v-if="type === 'stages'"
        :model-value="rule.trigger.stages ?? []"
        :options="kind.stages.map((stage) => ({ value: stage.key, words: stage.label }))"
        :label="`${kind.stage_label}s`"
        :blank="`Choose a ${kind.stage_label.toLowerCase()}`"
        :disabled="disabled"
        @update:model-value="(keys) => setting('stages', keys)"
      />
      <FieldPicker
        v-else-if="type === 'field'"
        :model-value="rule.trigger.field"
        :references="own"
        label="Field that changes"
        blank="any field"
        class="w-40"
        @update:model-value="watch"
      />
      <template v-else-if="type === 'values' && field && listed.length">
        <span class="text-muted">{{ name }}</span>
        <SeveralBox
          :model-value="
            ((rule.trigger[name as 'from' | 'to'] ?? []) as unknown[]).map((one) =>
              one === true ? 'yes' : one === false ? 'no' : String(one),
            )
          "
          :options="listed"
          :label="name"
          blank="anything"
          :disabled="disabled"
          @update:model-value="(keys) => setting(name as 'from' | 'to', keys)"
        />
      </template>
    </template>
    <span class="ml-2 text-muted">runs after the save,</span>
    <SelectBox
      :model-value="rule.how_often ?? 'every_time'"
      :options="often"
      label="How often"
      :disabled="disabled"
      @update:model-value="(how_often) => put({ how_often })"
    />
  </div>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { everyKind, useSetup, type Kind } from '@/state/setup'
import { isTask, referencesOf, type Action } from './model'

/** Which record an action is about: that of the rule, one it links to, or one that an earlier action makes. */
const props = defineProps<{ kind: Kind; earlier: Action[]; label: string; wrong?: string }>()
const value = defineModel<string | undefined>({ required: true })
const { setup } = useSetup()

const options = computed(() => [
  { value: '', words: isTask(props.kind) ? 'the record of the task' : `the ${props.kind.label.toLowerCase()} itself` },
  ...referencesOf(props.kind, everyKind(setup.value), 1)
    .filter((one) => one.field.type === 'link' && setup.value.kinds.some((kind) => kind.key === one.field.links_to))
    .map((one) => ({ value: one.path, words: one.label })),
  ...props.earlier.flatMap((action, index) =>
    action.action === 'record' || (action.action === 'list' && action.put !== 'off')
      ? [{ value: `made.${index + 1}`, words: `what action ${index + 1} makes` }]
      : [],
  ),
])
</script>

<template>
  <FormRow v-if="options.length > 1" :label="label" :wrong="wrong" plain
    ><SelectBox
      :model-value="value ?? ''"
      :options="options"
      :label="label"
      wide
      @update:model-value="(of) => (value = of || undefined)"
  /></FormRow>
</template>

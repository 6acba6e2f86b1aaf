<script setup lang="ts">
import { computed } from 'vue'
import { leaveOut } from '@/lib/leaveOut'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { isTask, keptFor, speaksOfTask, tasksBefore, type Action, type Reference } from './model'
import SavedPicker from './SavedPicker.vue'
import TemplateInput from './TemplateInput.vue'

/** Which paper is filled in, what the file is called, and where it hangs. */
const props = defineProps<{
  references: Reference[]
  kind: Kind
  earlier: Action[]
  wrong: Record<string, string>
}>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()
const papers = computed(() => keptFor(setup.value.papers, props.kind))
const places = computed(() => [
  ...(isTask(props.kind) ? [] : [{ value: '', words: `the ${props.kind.label.toLowerCase()}` }]),
  ...tasksBefore(props.earlier, speaksOfTask(props.references)),
])
function put(changes: Partial<Action>) {
  action.value = leaveOut({ ...action.value, ...changes }, (value) => value === undefined || value === '')
}
/** A sentence about the paper, wherever within it. */
const wrongPaper = computed(
  () => props.wrong.document ?? props.wrong['document.key'] ?? props.wrong['document.version'],
)
</script>

<template>
  <SavedPicker
    v-if="papers.length"
    :model-value="action.document"
    label="Which paper"
    :options="papers"
    :wrong="wrongPaper"
    @update:model-value="(document) => put({ document })"
  />
  <p v-else class="mb-3 text-amber">
    There is no paper for {{ kind.plural.toLowerCase() }} yet. Write one in the
    <RouterLink to="/setup/papers">set-up, under Papers</RouterLink>.
  </p>
  <FormRow v-slot="{ id }" label="What the file is called" :wrong="wrong.name">
    <TemplateInput
      :id="id"
      :model-value="action.name ?? ''"
      :references="references"
      :kind="kind"
      label="What the file is called"
      :invalid="!!wrong.name"
      @update:model-value="(name) => (action = { ...action, name })"
    />
  </FormRow>
  <FormRow v-if="places.length" label="Attached to" :wrong="wrong.on" plain
    ><SelectBox
      :model-value="action.on ?? places[0]!.value"
      :options="places"
      label="Attached to"
      wide
      @update:model-value="(on) => put({ on })"
  /></FormRow>
</template>

<script setup lang="ts">
import { computed, type Component } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import DoingEditor from './DoingEditor.vue'
import { formOf, type ActionForm } from './actionForms'
import type { Action, Reference } from './model'
import type { ActionName } from './names'
import LadderEditor from './LadderEditor.vue'
import MakePaperEditor from './MakePaperEditor.vue'
import MessageEditor from './MessageEditor.vue'
import TaskEditor from './TaskEditor.vue'
import WaitEditor from './WaitEditor.vue'

/** An action of any kind: which it is, and below that all it can say. `wrong` holds sentences by name of setting. */
const props = defineProps<{
  references: Reference[]
  kind: Kind
  index: number
  earlier: Action[]
  beforeSave: boolean
  wrong: Record<string, string>
}>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()
const editors = {
  settings: DoingEditor,
  task: TaskEditor,
  wait: WaitEditor,
  ladder: LadderEditor,
  message: MessageEditor,
  paper: MakePaperEditor,
} satisfies Record<ActionForm['editor'], Component>

const kinds = computed(() =>
  setup.value.vocabulary.actions
    .filter((one) => (props.beforeSave ? one.before_save : one.after_save) || one.name === action.value.action)
    .map((one) => ({ value: one.name, words: one.words })),
)

/** What was written before stays where the new kind of action has a place for it. */
function choose(name: ActionName) {
  if (name === action.value.action) return
  const text = action.value.text ?? action.value.title ?? ''
  const begun = formOf(name)?.begin(props.kind) ?? {}
  const place = (['title', 'text'] as const).find((key) => key in begun)
  action.value = { action: name, ...begun, ...(place && text ? { [place]: text } : {}) }
}
</script>

<template>
  <div class="mb-3">
    <span class="lab mb-1 block">What it does</span>
    <SelectBox
      :model-value="action.action"
      :options="kinds"
      label="What it does"
      strong
      wide
      @update:model-value="choose"
    />
    <p v-if="wrong['']" class="mt-1 text-sm text-red" role="alert">{{ wrong[''] }}</p>
    <p v-if="wrong.of" class="mt-1 text-sm text-red" role="alert">{{ wrong.of }}</p>
  </div>
  <component
    :is="editors[formOf(action.action)?.editor ?? 'settings']"
    v-model="action"
    :references="references"
    :kind="kind"
    :index="index"
    :earlier="earlier"
    :wrong="wrong"
  />
</template>

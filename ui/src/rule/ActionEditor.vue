<script setup lang="ts">
import { computed } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import DoingEditor from './DoingEditor.vue'
import { blankAction, type Action, type Reference } from './model'
import LadderEditor from './LadderEditor.vue'
import TaskEditor from './TaskEditor.vue'
import WaitEditor from './WaitEditor.vue'

/** An action of any kind: which it is, and below that all it can say. `wrong` holds sentences by the name of the setting. */
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

const kinds = computed(() =>
  setup.value.vocabulary.actions
    .filter((one) => !props.beforeSave || one.before_save || one.name === action.value.action)
    .map((one) => ({ value: one.name, words: one.words })),
)

/** What was written before stays where the new kind of action has a place for it. */
function choose(name: string) {
  if (name === action.value.action) return
  const usual: Record<string, Partial<Action>> = {
    set: { values: [{ field: '', value: null }] },
    assign: { assign: { to: 'owner' } },
    move: {},
    list: { put: 'on', list: '' },
    record: { kind: props.kind.key, values: [{ field: 'title', text: '' }] },
    log: { way: 'note', text: '' },
    tasks: { priority: 'urgent' },
    kit: { kit: '' },
    notice: { assign: { to: 'owner' }, text: '' },
    wait: { for: { count: 3, unit: 'working_days', direction: 'after', from: 'now', at: '09:00' } },
    ladder: {
      steps: [{ after: { count: 1, unit: 'working_days', from: 'due', at: '09:00' }, do: 'remind' }],
    },
  }
  const text = action.value.text ?? action.value.title
  const kept = ['log', 'notice'].includes(name) && text ? { text } : {}
  action.value =
    name === 'task'
      ? { ...blankAction(), title: text ?? '' }
      : ({ action: name, ...usual[name], ...kept } as unknown as Action)
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
  <TaskEditor
    v-if="action.action === 'task'"
    v-model="action"
    :references="references"
    :kind="kind"
    :index="index"
    :earlier="earlier"
    :wrong="wrong"
  />
  <WaitEditor
    v-else-if="action.action === 'wait'"
    v-model="action"
    :references="references"
    :kind="kind"
    :wrong="wrong"
  />
  <LadderEditor
    v-else-if="action.action === 'ladder'"
    v-model="action"
    :references="references"
    :kind="kind"
    :earlier="earlier"
    :wrong="wrong"
  />
  <DoingEditor v-else v-model="action" :references="references" :kind="kind" :earlier="earlier" :wrong="wrong" />
</template>

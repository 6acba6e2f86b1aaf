<script setup lang="ts">
import { computed } from 'vue'
import type { Kind } from '@/state/setup'
import type { Said } from '@/task/fields'
import TaskEditor from '@/task/TaskEditor.vue'
import { writtenForms } from '@/task/writtenForms'
import { tidy, type Action, type Reference } from './model'

/** All that a task action can say. `wrong` holds sentences by the name of the setting. */
defineProps<{
  references: Reference[]
  kind: Kind
  index: number
  earlier: Action[]
  wrong: Record<string, string>
}>()
const action = defineModel<Action>({ required: true })
const said = computed({
  get: (): Said => action.value,
  set: (next) => (action.value = { ...tidy(next), action: 'task' } as Action),
})
</script>

<template>
  <TaskEditor
    v-model="said"
    form="rule"
    :forms="writtenForms"
    :wrong="wrong"
    :around="{ references, kind, index, earlier }"
  />
</template>

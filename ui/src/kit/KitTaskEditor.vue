<script setup lang="ts">
import { computed } from 'vue'
import { tidy, type Reference } from '@/rule/model'
import type { Kind } from '@/state/setup'
import type { Around, Said } from '@/task/fields'
import TaskEditor from '@/task/TaskEditor.vue'
import { writtenForms } from '@/task/writtenForms'
import ComesEditor from './ComesEditor.vue'
import { numberOf, type Kit, type KitTask } from './model'
import OpeningEditor from './OpeningEditor.vue'

/** All that the template of a task can say. `wrong` holds sentences by the name of the setting. */
const props = defineProps<{
  kit: Kit
  kind: Kind
  references: Reference[]
  self: string | null
  wrong: Record<string, string>
}>()
const task = defineModel<KitTask>({ required: true })
const emit = defineEmits<{ remove: [] }>()

const said = computed({
  get: (): Said => task.value,
  set: (next) => (task.value = { ...tidy(next), key: task.value.key } as KitTask),
})
const put = (changes: Partial<KitTask>) => (said.value = { ...task.value, ...changes })

const anchor = computed(() => props.kind.fields.find((field) => field.key === props.kit.from)?.label)
const around = computed<Around>(() => ({
  references: props.references,
  kind: props.kind,
  dated: props.references.filter((one) => one.path !== props.kit.from),
  froms: [
    { value: 'comes', words: 'when it comes' },
    props.kit.count === 'back'
      ? { value: 'target', words: anchor.value ?? 'the target' }
      : { value: 'start', words: anchor.value ?? 'the start' },
  ],
}))
</script>

<template>
  <div>
    <div class="mb-3 flex items-baseline justify-between">
      <h3>Task {{ numberOf(kit, task.key) }}</h3>
      <button type="button" class="link text-sm" @click="emit('remove')">Remove it</button>
    </div>
    <TaskEditor v-model="said" form="kit" :forms="writtenForms" :wrong="wrong" :around="around">
      <template #after-title>
        <ComesEditor
          class="sm:col-span-2"
          :model-value="task.after"
          :kit="kit"
          :task="task"
          :wrong="wrong.after"
          @update:model-value="(after) => put({ after })"
        />
      </template>
      <template #after-log>
        <OpeningEditor
          class="sm:col-span-2"
          :model-value="task.opens"
          :kind="kind"
          :references="references"
          :self="self"
          :wrong="wrong.opens"
          @update:model-value="(opens) => put({ opens })"
        />
      </template>
    </TaskEditor>
  </div>
</template>

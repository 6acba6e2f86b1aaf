<script setup lang="ts">
import { computed } from 'vue'
import { counted } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { tidy, type Reference } from '@/rule/model'
import type { Kind } from '@/state/setup'
import type { Around, Said } from '@/task/fields'
import TaskEditor from '@/task/TaskEditor.vue'
import { writtenForms } from '@/task/writtenForms'
import ComesEditor from './ComesEditor.vue'
import { numberOf, partsOf, shortTitle, type Kit, type KitTask } from './model'
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
const emit = defineEmits<{ remove: []; part: [] }>()

const said = computed({
  get: (): Said => task.value,
  set: (next) => (task.value = { ...tidy(next), key: task.value.key } as KitTask),
})
const put = (changes: Partial<KitTask>) => (said.value = { ...task.value, ...changes })

const parts = computed(() => partsOf(props.kit, task.value.key))
/** Tasks before it in its phase that are no parts themselves. */
const parents = computed(() => {
  const phase = props.kit.phases.find((one) => one.tasks.some((other) => other.key === task.value.key))?.tasks ?? []
  const before = phase.slice(0, phase.indexOf(phase.find((one) => one.key === task.value.key)!))
  return [
    { value: '', words: 'no other task' },
    ...before
      .filter((one) => !one.under)
      .map((one) => ({ value: one.key, words: `${numberOf(props.kit, one.key)} ${shortTitle(one)}` })),
  ]
})

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
        <FormRow label="Part of" :wrong="wrong.under" plain class="sm:col-span-2">
          <SelectBox
            v-if="!parts.length"
            :model-value="task.under ?? ''"
            :options="parents"
            label="Part of"
            @update:model-value="(under) => put({ under: under || undefined })"
          />
          <template v-else>no other task; it has {{ counted(parts.length, 'part') }}. </template>
          <button v-if="!task.under" type="button" class="link ml-2" @click="emit('part')">Add a part to it</button>
        </FormRow>
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

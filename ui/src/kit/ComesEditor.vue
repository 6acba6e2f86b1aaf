<script setup lang="ts">
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { numberOf, shortTitle, tasksOf, type Kit, type KitTask, type Step } from './model'

/** After what a task comes: ways in, one of which is enough, each with steps that are all needed. */
const props = defineProps<{ kit: Kit; task: KitTask; wrong?: string }>()
const after = defineModel<Step[][] | undefined>({ required: true })

const others = computed(() => tasksOf(props.kit).filter((task) => task.key !== props.task.key))
const options = computed(() =>
  others.value.map((task) => ({
    value: task.key,
    words: `${numberOf(props.kit, task.key)} ${shortTitle(task)}`,
  })),
)
const answersOf = (key: string) => others.value.find((task) => task.key === key)?.answers ?? []
const put = (ways: Step[][]) => {
  const kept = ways.filter((steps) => steps.length)
  after.value = kept.length ? kept : undefined
}
const change = (way: number, step: number, to: Step | null) =>
  put(
    (after.value ?? []).map((steps, place) =>
      place === way
        ? to
          ? steps.map((one, at) => (at === step ? to : one))
          : steps.filter((_, at) => at !== step)
        : steps,
    ),
  )
const first = () => ({ task: others.value[0]!.key })
const addWay = () => put([...(after.value ?? []), [first()]])
const addStep = (way: number) =>
  put((after.value ?? []).map((steps, place) => (place === way ? [...steps, first()] : steps)))
</script>

<template>
  <FormRow label="Comes" :wrong="wrong" plain>
    <p v-if="!after?.length">
      {{ task.under ? `With task ${numberOf(kit, task.under)}, whose part it is.` : 'At the start.' }}
      <button v-if="others.length" type="button" class="link" @click="addWay">Let it come after another task</button>
    </p>
    <template v-else>
      <div v-for="(steps, way) in after" :key="way" class="mb-2 border border-line p-2">
        <div v-for="(step, at) in steps" :key="at" class="mb-1 flex flex-wrap items-center gap-1">
          <span class="w-10 text-muted">{{ at ? 'and' : way ? 'or after' : 'after' }}</span>
          <SelectBox
            :model-value="step.task"
            :options="options"
            :label="`Way ${way + 1}, task ${at + 1}`"
            @update:model-value="(task) => change(way, at, { task })"
          />
          <SelectBox
            v-if="answersOf(step.task).length || step.answer"
            :model-value="step.answer ?? ''"
            :options="[
              { value: '', words: 'with any answer' },
              ...answersOf(step.task).map((one) => ({ value: one, words: `if ${one}` })),
            ]"
            :label="`Way ${way + 1}, answer ${at + 1}`"
            @update:model-value="
              (answer) => change(way, at, answer ? { task: step.task, answer } : { task: step.task })
            "
          />
          <button
            type="button"
            class="link ml-auto text-sm"
            :aria-label="`Way ${way + 1}: not after this task`"
            @click="change(way, at, null)"
          >
            Remove
          </button>
        </div>
        <button type="button" class="link text-sm" @click="addStep(way)">And after another</button>
      </div>
      <button type="button" class="link" @click="addWay">Or by another way</button>
    </template>
  </FormRow>
</template>

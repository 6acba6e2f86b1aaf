<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import DialogBox from '@/parts/DialogBox'
import { useSetup } from '@/state/setup'
import { fieldsOf } from '@/task/fields'
import { plainForms } from '@/task/plainForms'
import TaskEditor from '@/task/TaskEditor.vue'
import { changesOf, formOf, wrongOf } from '@/task/taskForm'

/** Changes what a task says. What was typed stays when it is refused. */
const props = defineProps<{ open: boolean; task: Schemas['Task'] }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const { setup, zone } = useSetup()
const { say } = useNotices()
const fields = computed(() => fieldsOf(setup.value, 'edit'))
const before = ref(formOf(props.task, fields.value, zone.value))
const form = ref({ ...before.value })
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

watch(
  () => props.open,
  (open) => {
    if (!open) return
    before.value = formOf(props.task, fields.value, zone.value)
    form.value = { ...before.value }
    wrong.value = {}
  },
)

async function save() {
  const body: Schemas['TaskEdits'] = changesOf(before.value, form.value, fields.value)
  if (!Object.keys(body).length) return emit('close')
  busy.value = true
  wrong.value = {}
  try {
    const after = await answerOf(api.POST('/api/tasks/{id}/edit', { params: { path: { id: props.task.id } }, body }))
    say(`Saved: ${after.title}`)
    emit('changed')
    emit('close')
  } catch (problem) {
    wrong.value = wrongOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`Change: ${task.title}`" @close="emit('close')">
    <form @submit.prevent="save">
      <TaskEditor v-model="form" form="edit" :forms="plainForms" :wrong="wrong" />
      <p v-if="wrong.all ?? wrong.task" class="mb-3 text-red" role="alert">{{ wrong.all ?? wrong.task }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Save the task</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Leave as it is</button>
      </div>
    </form>
  </DialogBox>
</template>

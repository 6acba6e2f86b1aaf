<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import { fieldsOf } from '@/task/fields'
import { plainForms } from '@/task/plainForms'
import TaskEditor from '@/task/TaskEditor.vue'
import { blankTask, bodyOf, wrongOf } from '@/task/taskForm'
import type { To } from './useTaskSteps'

/** A task made by hand, about a record or about none. What was typed stays until it is made or thrown away. */
const props = defineProps<{
  open: boolean
  record?: { id: number; title: string } | null
  parent?: { id: number; title: string } | null
}>()
const emit = defineEmits<{ close: []; made: [task: Schemas['Task']] }>()
const { people, setup } = useSetup()
const { person } = useSession()

const fields = computed(() => fieldsOf(setup.value, 'new'))
const form = ref(blankTask(fields.value))
const to = ref<To>({ assignee: null, queue: null })
const also = ref<string[]>([])
const about = ref<number | null>(null)
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

function begin() {
  form.value = blankTask(fields.value)
  to.value = { assignee: person.value?.key ?? null, queue: null }
  also.value = []
  about.value = props.record?.id ?? null
}
watch(
  () => props.open,
  (open) => {
    if (open && !form.value.title) begin()
    wrong.value = {}
  },
)

async function save() {
  busy.value = true
  wrong.value = {}
  try {
    const body = {
      ...bodyOf(form.value, fields.value),
      ...to.value,
      record_id: about.value,
      parent_id: props.parent?.id ?? null,
      ...(also.value.length ? { also: also.value } : {}),
    } as Schemas['NewTask']
    const task = await answerOf(api.POST('/api/tasks', { body }))
    begin()
    emit('made', task)
    emit('close')
  } catch (problem) {
    wrong.value = wrongOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <DialogBox
    :open="open"
    :title="parent ? `A part of ${parent.title}` : record ? `New task about ${record.title}` : 'New task'"
    @close="emit('close')"
  >
    <form @submit.prevent="save">
      <TaskEditor v-model="form" form="new" :forms="plainForms" :wrong="wrong">
        <template #after-text>
          <FormRow label="Who" plain :wrong="wrong.assignee ?? wrong.queue"
            ><AssigneePicker v-model="to" label="Who"
          /></FormRow>
          <FormRow label="And one each for" plain :wrong="wrong.also"
            ><SeveralBox
              v-model="also"
              :options="
                people.filter((one) => one.key !== to.assignee).map((one) => ({ value: one.key, words: one.name }))
              "
              label="And one each for"
              blank="nobody else"
              wide
          /></FormRow>
          <FormRow v-if="!record" class="sm:col-span-2" label="About" plain :wrong="wrong.record_id"
            ><RecordPicker v-model="about" label="About"
          /></FormRow>
        </template>
      </TaskEditor>
      <p v-if="wrong.all" class="mb-3 text-red" role="alert">{{ wrong.all }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Make the task</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

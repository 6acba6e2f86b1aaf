<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import { useSetup } from '@/state/setup'
import { fieldsOf } from '@/task/fields'
import { plainForms } from '@/task/plainForms'
import TaskEditor from '@/task/TaskEditor.vue'
import { blankTask, bodyOf, formOf, wrongOf } from '@/task/taskForm'
import MessageProposal from './MessageProposal.vue'
import type { To } from './useTaskSteps'

/** A task or message that a rule filled in: its blanks are completed, then it is sent or thrown away. */
const props = defineProps<{ open: boolean; proposal: Schemas['Proposal'] | null }>()
const emit = defineEmits<{ close: []; settled: [] }>()
const { setup, zone } = useSetup()
const { say } = useNotices()
const fields = computed(() => fieldsOf(setup.value, 'new'))
const form = ref(blankTask(fields.value))
const to = ref<To>({ assignee: null, queue: null })
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

const fill = (one: Schemas['Proposal'] | null) => {
  if (!one?.task) return
  wrong.value = {}
  form.value = formOf(one.task, fields.value, zone.value)
  to.value = { assignee: one.task.assignee ?? null, queue: one.task.queue ?? null }
}
watch(() => props.proposal, fill, { immediate: true })
const path = () => ({ params: { path: { id: props.proposal!.id } } })
async function send() {
  busy.value = true
  try {
    const task = { ...bodyOf(form.value, fields.value), ...to.value }
    const made = await answerOf(api.POST('/api/proposals/{id}/send', { ...path(), body: { task } }))
    say(`Sent: ${made.title}`)
    emit('settled')
  } catch (problem) {
    wrong.value = wrongOf(problem)
  } finally {
    busy.value = false
  }
}
async function throwAway() {
  try {
    await answerOf(api.POST('/api/proposals/{id}/throw', path()))
    say('Thrown away. Nothing was made.')
    emit('settled')
  } catch (problem) {
    wrong.value = wrongOf(problem)
  }
}
</script>

<template>
  <DialogBox
    :open="open"
    :title="proposal?.message ? 'Send this message?' : 'Send this task?'"
    wide
    @close="emit('close')"
  >
    <MessageProposal
      v-if="proposal?.message"
      :proposal="proposal"
      :message="proposal.message"
      @close="emit('close')"
      @settled="emit('settled')"
    />
    <form v-else-if="proposal" @submit.prevent="send">
      <p class="mb-3 text-muted">
        “{{ proposal.rule.name }}” filled it in<template v-if="proposal.record">
          for {{ proposal.record.title }}</template
        >. Complete the blanks, then send it. Nothing is made before.
      </p>
      <TaskEditor v-model="form" form="new" :forms="plainForms" :wrong="wrong">
        <template #after-text>
          <FormRow class="sm:col-span-2" label="Who" plain :wrong="wrong.assignee ?? wrong.queue"
            ><AssigneePicker v-model="to" label="Who"
          /></FormRow>
        </template>
      </TaskEditor>
      <p v-if="wrong.all ?? wrong.task" class="mb-3 text-red" role="alert">{{ wrong.all ?? wrong.task }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Send it</button>
        <button type="button" class="btn" :disabled="busy" @click="throwAway">Throw it away</button>
        <button type="button" class="btn btn-quiet ml-auto" @click="emit('close')">Later</button>
      </div>
    </form>
  </DialogBox>
</template>

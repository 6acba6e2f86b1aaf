<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { sentenceCase } from '@/lib/words'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import ClockInput from '@/parts/ClockInput.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import type { To } from './useTaskSteps'

/** A task that a rule filled in: its blanks are completed, then it is sent or thrown away. */
const props = defineProps<{ open: boolean; proposal: Schemas['Proposal'] | null }>()
const emit = defineEmits<{ close: []; settled: [] }>()
const { setup } = useSetup()
const { say } = useNotices()
const form = ref({
  title: '',
  text: '',
  due_on: '',
  due_at: '',
  priority: 'normal' as string | null,
  to: { assignee: null, queue: null } as To,
})
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

const fill = (one: Schemas['Proposal'] | null) => {
  if (!one) return
  const { task } = one
  wrong.value = {}
  form.value = {
    title: task.title ?? '',
    text: task.text ?? '',
    due_on: task.due_on ?? '',
    due_at: task.due_at ?? '',
    priority: task.priority ?? 'normal',
    to: { assignee: task.assignee ?? null, queue: task.queue ?? null },
  }
}
watch(() => props.proposal, fill, { immediate: true })
const path = () => ({ params: { path: { id: props.proposal!.id } } })
async function send() {
  busy.value = true
  const { to, ...rest } = form.value
  try {
    const task = {
      ...rest,
      ...to,
      priority: rest.priority ?? 'normal',
      text: rest.text || null,
      due_on: rest.due_on || null,
      due_at: rest.due_at || null,
    }
    const made = await answerOf(api.POST('/api/proposals/{id}/send', { ...path(), body: { task } }))
    say(`Sent: ${made.title}`)
    emit('settled')
  } catch (problem) {
    wrong.value = (problem instanceof ApiError && problem.refusal.fields) || { all: sentenceOf(problem) }
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
    wrong.value = { all: sentenceOf(problem) }
  }
}
const blank = (text: string) => /_{3,}/.test(text)
</script>

<template>
  <DialogBox :open="open" title="Send this task?" wide @close="emit('close')">
    <form v-if="proposal" @submit.prevent="send">
      <p class="mb-3 text-muted">
        “{{ proposal.rule.name }}” filled it in<template v-if="proposal.record">
          for {{ proposal.record.title }}</template
        >. Complete the blanks, then send it. Nothing is made before.
      </p>
      <FormRow
        v-slot="{ id }"
        label="What to do"
        :wrong="wrong.title"
        :hint="blank(form.title) ? 'Fill in what stands as ___.' : undefined"
      >
        <input :id="id" v-model="form.title" class="input" :class="blank(form.title) ? 'bg-amber-bg' : ''" />
      </FormRow>
      <FormRow
        v-slot="{ id }"
        label="More about it"
        :wrong="wrong.text"
        :hint="blank(form.text) ? 'Fill in what stands as ___.' : undefined"
      >
        <textarea :id="id" v-model="form.text" class="input" :class="blank(form.text) ? 'bg-amber-bg' : ''" rows="3" />
      </FormRow>
      <div class="grid gap-x-3 sm:grid-cols-2">
        <FormRow label="Who" plain :wrong="wrong.assignee ?? wrong.queue"
          ><AssigneePicker v-model="form.to" label="Who"
        /></FormRow>
        <FormRow label="Priority" plain>
          <SelectBox
            v-model="form.priority"
            label="Priority"
            wide
            :options="setup.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) }))"
          />
        </FormRow>
        <FormRow v-slot="{ id }" label="Due" :wrong="wrong.due_on"
          ><input :id="id" v-model="form.due_on" type="date" class="input"
        /></FormRow>
        <FormRow v-slot="{ id }" label="At" :wrong="wrong.due_at"
          ><ClockInput :id="id" v-model="form.due_at"
        /></FormRow>
      </div>
      <p v-if="wrong.all ?? wrong.task" class="mb-3 text-red" role="alert">{{ wrong.all ?? wrong.task }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Send it</button>
        <button type="button" class="btn" :disabled="busy" @click="throwAway">Throw it away</button>
        <button type="button" class="btn btn-quiet ml-auto" @click="emit('close')">Later</button>
      </div>
    </form>
  </DialogBox>
</template>

<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted, sentenceCase } from '@/lib/words'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import ClockInput from '@/parts/ClockInput.vue'
import DialogBox from '@/parts/DialogBox.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import type { To } from './useTaskSteps'

/** Tasks that rules filled in for the person to send or throw away. Nothing is made before. */
const { setup } = useSetup()
const { say } = useNotices()
const { data, reload } = useLoaded(() => answerOf(api.GET('/api/proposals', {})))
useLive(() => reload())
const open = ref<Schemas['Proposal'] | null>(null)
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

watch(open, (one) => {
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
})
const path = () => ({ params: { path: { id: open.value!.id } } })
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
    open.value = null
    await reload()
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
    open.value = null
    await reload()
  } catch (problem) {
    wrong.value = { all: sentenceOf(problem) }
  }
}
const blank = (text: string) => /_{3,}/.test(text)
</script>

<template>
  <div
    v-if="data?.proposals.length"
    class="flex flex-wrap items-center gap-3 border-b border-gold bg-amber-bg px-3 py-2 sm:px-5"
    role="status"
  >
    <span>{{ counted(data.proposals.length, 'task waits', 'tasks wait') }} for you to send:</span>
    <button v-for="one in data.proposals.slice(0, 3)" :key="one.id" type="button" class="link" @click="open = one">
      {{ one.task.title }}
    </button>
  </div>
  <DialogBox :open="open !== null" title="Send this task?" wide @close="open = null">
    <form v-if="open" @submit.prevent="send">
      <p class="mb-3 text-muted">
        “{{ open.rule.name }}” filled it in<template v-if="open.record"> for {{ open.record.title }}</template
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
        <button type="button" class="btn btn-quiet ml-auto" @click="open = null">Later</button>
      </div>
    </form>
  </DialogBox>
</template>

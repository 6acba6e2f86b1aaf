<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { counted, sentenceCase } from '@/lib/words'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import { useDates } from '@/lib/dates'
import DateWordsInput from './DateWordsInput.vue'
import type { To } from './useTaskSteps'

/** One step for all tasks that are chosen: finish, re-date, pass on, set the priority, drop. */
const props = defineProps<{ tasks: Schemas['Task'][] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { setup } = useSetup()
const { say } = useNotices()
const { day } = useDates()
type Step = 'done' | 'drop' | 'put_off' | 'pass_on' | 'priority'
const asking = ref<Step | null>(null)
const to = ref<To>({ assignee: null, queue: null })
const due = ref<{ on: string; at: string | null } | null>(null)
const refused = ref<{ id: number; title: string; why: string }[]>([])
const busy = ref(false)
const WORDS: Record<Step, string> = {
  done: 'Finish',
  drop: 'Drop',
  put_off: 'Re-date',
  pass_on: 'Pass on',
  priority: 'Priority',
}

function ask(step: Step) {
  to.value = { assignee: null, queue: null }
  due.value = null
  asking.value = step
}
async function run(step: Step, more: Record<string, unknown> = {}) {
  busy.value = true
  try {
    const body = { ids: props.tasks.map((task) => task.id), step, ...more }
    const found = await answerOf(api.POST('/api/tasks/several', { body }))
    refused.value = found.refused
    say(`${WORDS[step]}: ${counted(found.tasks.length, 'task')}`)
    asking.value = null
    emit('done')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    say(fields[0] ?? sentenceOf(problem), 'bad')
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div
    class="flex flex-wrap items-center gap-2 border-b border-pine bg-chosen px-3 py-2 sm:px-5"
    role="toolbar"
    aria-label="For all chosen tasks"
  >
    <b>{{ counted(tasks.length, 'task') }} chosen</b>
    <template v-if="tasks.length">
      <button type="button" class="btn btn-quiet" @click="ask('pass_on')">Pass on</button>
      <button type="button" class="btn btn-quiet" @click="ask('put_off')">Re-date</button>
      <SelectBox
        :model-value="null"
        :options="setup.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) }))"
        label="Priority of all chosen"
        blank="Priority"
        @update:model-value="(priority) => priority && run('priority', { priority })"
      />
      <button type="button" class="btn btn-quiet" @click="ask('done')">Finish</button>
      <button type="button" class="btn btn-quiet" @click="ask('drop')">Drop</button>
    </template>
    <button type="button" class="link ml-auto" @click="emit('leave')">Choose no more</button>
    <DialogBox
      :open="asking !== null"
      :title="asking ? `${WORDS[asking]} ${counted(tasks.length, 'task')}` : ''"
      @close="asking = null"
    >
      <form
        class="min-h-40"
        @submit.prevent="run(asking!, asking === 'pass_on' ? to : due ? { due_on: due.on, due_at: due.at } : {})"
      >
        <FormRow v-if="asking === 'pass_on'" label="To" plain><AssigneePicker v-model="to" label="To" /></FormRow>
        <DateWordsInput v-else-if="asking === 'put_off'" @read="(on, at) => (due = { on, at })" />
        <p v-else class="mb-3">
          {{
            asking === 'done'
              ? 'Tasks that ask how they went stay open and are named.'
              : 'They leave the worklist and stay in the history.'
          }}
        </p>
        <div class="flex gap-2">
          <button
            type="submit"
            class="btn btn-go"
            :disabled="
              busy || (asking === 'put_off' && !due) || (asking === 'pass_on' && !to.assignee && !to.queue && !to.team)
            "
          >
            {{ asking ? WORDS[asking] : '' }}{{ asking === 'put_off' && due ? ` to ${day(due.on)}` : '' }}
          </button>
          <button type="button" class="btn btn-quiet" @click="asking = null">Leave them</button>
        </div>
      </form>
    </DialogBox>
    <DialogBox :open="refused.length > 0" title="Not done for some" @close="refused = []">
      <ul class="mb-3 max-h-64 overflow-auto">
        <li v-for="one in refused" :key="one.id" class="border-b border-line py-1">
          <b class="font-semibold">{{ one.title }}</b> {{ one.why }}
        </li>
      </ul>
      <button type="button" class="btn" @click="refused = []">Close</button>
    </DialogBox>
  </div>
</template>

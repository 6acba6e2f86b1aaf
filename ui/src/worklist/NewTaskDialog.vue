<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { sentenceCase, wayWords } from '@/lib/words'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import ClockInput from '@/parts/ClockInput.vue'
import DialogBox from '@/parts/DialogBox.vue'
import FormRow from '@/parts/FormRow.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSession } from '@/state/session'
import type { To } from './useTaskSteps'
import { useSetup } from '@/state/setup'

/** A task made by hand, about a record or about none. What was typed stays until it is made or thrown away. */
const props = defineProps<{
  open: boolean
  record?: { id: number; title: string } | null
  parent?: { id: number; title: string } | null
}>()
const emit = defineEmits<{ close: []; made: [task: Schemas['Task']] }>()
const { setup, people } = useSetup()
const { person } = useSession()

const blank = () => ({
  title: '',
  text: '',
  web_link: '',
  way: 'other' as string | null,
  priority: 'normal' as string | null,
  to: { assignee: person.value?.key ?? null, queue: null } as To,
  also: [] as string[],
  due_on: '',
  due_at: '',
  record_id: props.record?.id ?? null,
})
const form = ref(blank())
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

watch(
  () => props.open,
  (open) => {
    if (open && !form.value.title) form.value = blank()
    wrong.value = {}
  },
)

async function save() {
  busy.value = true
  wrong.value = {}
  const { to, ...rest } = form.value
  try {
    const body = {
      ...rest,
      ...to,
      ...(rest.also.length ? { also: rest.also } : { also: undefined }),
      text: rest.text || null,
      web_link: rest.web_link || null,
      parent_id: props.parent?.id ?? null,
      due_on: rest.due_on || null,
      due_at: rest.due_at || null,
    }
    const task = await answerOf(api.POST('/api/tasks', { body }))
    form.value = blank()
    emit('made', task)
    emit('close')
  } catch (problem) {
    const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
    wrong.value = fields ?? { all: sentenceOf(problem) }
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
      <FormRow v-slot="{ id, describedby }" label="What to do" :wrong="wrong.title">
        <input
          :id="id"
          v-model="form.title"
          class="input"
          :aria-invalid="wrong.title ? true : undefined"
          :aria-describedby="describedby"
        />
      </FormRow>
      <FormRow v-slot="{ id }" label="More about it" :wrong="wrong.text">
        <textarea :id="id" v-model="form.text" class="input" rows="3" />
      </FormRow>
      <div class="grid gap-x-3 sm:grid-cols-2">
        <FormRow label="Who" plain :wrong="wrong.assignee ?? wrong.queue"
          ><AssigneePicker v-model="form.to" label="Who"
        /></FormRow>
        <FormRow label="And one each for" plain :wrong="wrong.also"
          ><SeveralBox
            v-model="form.also"
            :options="
              people.filter((one) => one.key !== form.to.assignee).map((one) => ({ value: one.key, words: one.name }))
            "
            label="And one each for"
            blank="nobody else"
            wide
        /></FormRow>
        <FormRow v-if="!record" label="About" plain :wrong="wrong.record_id"
          ><RecordPicker v-model="form.record_id" label="About"
        /></FormRow>
        <FormRow label="Answer by" plain>
          <SelectBox
            v-model="form.way"
            label="Answer by"
            wide
            :options="setup.vocabulary.ways.map((way) => ({ value: way, words: wayWords(way) }))"
          />
        </FormRow>
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
      <FormRow v-slot="{ id }" label="Web link" :wrong="wrong.web_link"
        ><input :id="id" v-model="form.web_link" class="input" placeholder="https://"
      /></FormRow>
      <p v-if="wrong.all" class="mb-3 text-red" role="alert">{{ wrong.all }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Make the task</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

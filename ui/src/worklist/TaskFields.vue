<script setup lang="ts">
import { sentenceCase, wayWords } from '@/lib/words'
import ClockInput from '@/parts/ClockInput.vue'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import type { TaskForm } from './taskForm'

/** All that a task says, for one that is made and one that is changed. */
defineProps<{ wrong: Record<string, string> }>()
const form = defineModel<TaskForm>({ required: true })
const { setup } = useSetup()
</script>

<template>
  <FormRow v-slot="{ id, describedby }" label="What to do" :wrong="wrong.title">
    <input
      :id="id"
      v-model="form.title"
      class="input"
      maxlength="500"
      :aria-invalid="wrong.title ? true : undefined"
      :aria-describedby="describedby"
    />
  </FormRow>
  <FormRow v-slot="{ id }" label="More about it" :wrong="wrong.text">
    <textarea :id="id" v-model="form.text" class="input" rows="3" />
  </FormRow>
  <div class="grid gap-x-3 sm:grid-cols-2">
    <slot />
    <FormRow label="Answer by" plain :wrong="wrong.way">
      <SelectBox
        v-model="form.way"
        label="Answer by"
        wide
        :options="setup.vocabulary.ways.map((way) => ({ value: way, words: wayWords(way) }))"
      />
    </FormRow>
    <FormRow label="Priority" plain :wrong="wrong.priority">
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
    <FormRow v-slot="{ id }" label="At" :wrong="wrong.due_at"><ClockInput :id="id" v-model="form.due_at" /></FormRow>
    <FormRow v-slot="{ id }" label="Not before" :wrong="wrong.start_on" hint="Until then it stands under Starts later."
      ><input :id="id" v-model="form.start_on" type="date" class="input"
    /></FormRow>
    <FormRow v-slot="{ id }" label="Reminder" :wrong="wrong.remind_at" hint="Told in the bell to whoever has it then."
      ><input :id="id" v-model="form.remind_at" type="datetime-local" class="input"
    /></FormRow>
  </div>
  <FormRow
    v-slot="{ id }"
    label="Answers it asks for, one a line"
    :wrong="wrong.answers"
    hint="Leave it empty for a task that is simply done."
    ><LinesInput :id="id" v-model="form.answers"
  /></FormRow>
  <FormRow v-slot="{ id }" label="Web link" :wrong="wrong.web_link"
    ><input :id="id" v-model="form.web_link" class="input" placeholder="https://"
  /></FormRow>
</template>

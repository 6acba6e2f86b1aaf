<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref } from 'vue'
import { answerOf, api, sentenceOf } from '@/api/client'
import { useDates } from '@/lib/dates'
import FormRow from '@/parts/FormRow.vue'

/** A date in words, shown as a date before it is taken: "Friday 9:00", "in 2 working days". */
const emit = defineEmits<{ read: [on: string, at: string | null] }>()
const { day } = useDates()
const text = ref('')
const said = ref('')
const wrong = ref('')

const read = useDebounceFn(async () => {
  said.value = wrong.value = ''
  if (!text.value.trim()) return
  try {
    const query = { text: text.value }
    const found = await answerOf(api.GET('/api/tasks/date-words', { params: { query } }))
    if (!found.due_on) {
      wrong.value = 'That is no date. Write it like “Friday 9:00”, “in 2 working days” or “3 Dec”.'
      return
    }
    const off = found.off ? ` (a day off: ${found.off})` : ''
    said.value = `${day(found.due_on)}${found.due_at ? `, ${found.due_at}` : ''}${off}`
    emit('read', found.due_on, found.due_at)
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}, 150)
</script>

<template>
  <FormRow v-slot="{ id, describedby }" label="When, in words" :wrong="wrong" :hint="said || undefined">
    <input
      :id="id"
      v-model="text"
      class="input"
      maxlength="60"
      placeholder="Friday 9:00, in 2 working days, 3 Dec"
      autocomplete="off"
      :aria-describedby="describedby"
      @input="read"
    />
  </FormRow>
</template>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { addDays, useDates } from '@/lib/dates'
import ClockInput from '@/parts/ClockInput.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import DateWordsInput from './DateWordsInput.vue'
import { useTaskSteps } from './useTaskSteps'

const props = defineProps<{ open: boolean; task: Schemas['Task'] }>()
const emit = defineEmits<{ close: []; moved: [task: Schemas['Task']] }>()
const { putOff } = useTaskSteps()
const { today, day } = useDates()
const date = ref('')
const clock = ref('')
const wrong = ref('')

watch(
  () => props.open,
  (open) => {
    if (!open) return
    date.value = addDays(today(), 1)
    clock.value = props.task.due_at ?? ''
    wrong.value = ''
  },
)

// The next days on which somebody is likely to want it, weekends left out.
const soon = computed(() => {
  const days = [1, 2, 3, 4, 5, 6, 7].map((count) => addDays(today(), count))
  return days.filter((one) => ![0, 6].includes(new Date(`${one}T00:00:00Z`).getUTCDay())).slice(0, 5)
})

async function save() {
  try {
    emit('moved', await putOff(props.task.id, date.value, clock.value || null))
    emit('close')
  } catch (problem) {
    wrong.value =
      problem instanceof ApiError
        ? (Object.values(problem.refusal.fields ?? {})[0] ?? problem.message)
        : sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`Put off: ${task.title}`" @close="emit('close')">
    <form @submit.prevent="save">
      <div class="mb-3 flex flex-wrap gap-2">
        <button
          v-for="one in soon"
          :key="one"
          type="button"
          class="btn btn-quiet"
          :aria-pressed="date === one"
          :class="date === one ? 'border-pine bg-chosen' : ''"
          @click="date = one"
        >
          {{ day(one) }}
        </button>
      </div>
      <DateWordsInput v-if="open" @read="(on, at) => ((date = on), (clock = at ?? ''))" />
      <div class="grid grid-cols-2 gap-3">
        <FormRow v-slot="{ id, describedby }" label="To the day" :wrong="wrong">
          <input :id="id" v-model="date" type="date" class="input" :aria-describedby="describedby" />
        </FormRow>
        <FormRow v-slot="{ id }" label="At, if it matters">
          <ClockInput :id="id" v-model="clock" />
        </FormRow>
      </div>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="!date">
          {{ date ? `Put off to ${day(date)}${clock ? ` ${clock}` : ''}` : 'Choose a day' }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Leave as it is</button>
      </div>
    </form>
  </DialogBox>
</template>

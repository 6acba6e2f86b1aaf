<script setup lang="ts">
import { ref, watch } from 'vue'
import { sentenceOf, type Schemas } from '@/api/client'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import { useTaskSteps, type To } from './useTaskSteps'

const props = defineProps<{ open: boolean; task: Schemas['Task'] }>()
const emit = defineEmits<{ close: []; moved: [task: Schemas['Task']] }>()
const { passOn } = useTaskSteps()
const to = ref<To>({ assignee: null, queue: null })
const wrong = ref('')

watch(
  () => props.open,
  () => {
    to.value = { assignee: null, queue: null }
    wrong.value = ''
  },
)

async function save() {
  try {
    emit('moved', await passOn(props.task.id, to.value))
    emit('close')
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`Pass on: ${task.title}`" @close="emit('close')">
    <form class="min-h-56" @submit.prevent="save">
      <FormRow label="To" plain :wrong="wrong"><AssigneePicker v-model="to" label="To" /></FormRow>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="!to.assignee && !to.queue && !to.team">Pass on</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Keep it</button>
      </div>
    </form>
  </DialogBox>
</template>

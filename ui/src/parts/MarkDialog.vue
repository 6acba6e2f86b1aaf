<script setup lang="ts">
import { ref, watch } from 'vue'
import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { sentenceCase } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import TaskMark from '@/parts/TaskMark.vue'
import { useSetup } from '@/state/setup'

/** Two letters in an ink, which all tasks of a rule or kit carry. */
const props = defineProps<{
  open: boolean
  mark: Schemas['Mark']
  save: (letters: string, ink: string) => Promise<unknown>
}>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const letters = ref('')
const ink = ref('pine')
const wrong = ref('')

watch(
  () => props.open,
  () => {
    letters.value = props.mark?.letters ?? ''
    ink.value = props.mark?.ink ?? 'pine'
    wrong.value = ''
  },
)

async function keep() {
  try {
    await props.save(letters.value, ink.value)
    emit('close')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    wrong.value = fields[0] ?? sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" title="Mark of its tasks" @close="emit('close')">
    <form @submit.prevent="keep">
      <FormRow v-slot="{ id, describedby }" label="Two letters" :wrong="wrong" hint="Leave it empty for no mark.">
        <input
          :id="id"
          v-model="letters"
          class="input !w-20 font-mono uppercase"
          maxlength="2"
          autocomplete="off"
          :aria-describedby="describedby"
        />
      </FormRow>
      <div class="lab mb-1">Ink</div>
      <div class="mb-4 flex flex-wrap gap-2" role="radiogroup" aria-label="Ink">
        <label v-for="one in setup.inks" :key="one" class="flex items-center gap-1">
          <input v-model="ink" type="radio" name="ink" :value="one" />
          <TaskMark :mark="{ letters: letters.toUpperCase() || 'AB', ink: one }" />
          <span class="text-muted">{{ sentenceCase(one) }}</span>
        </label>
      </div>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go">Keep the mark</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Leave as it is</button>
      </div>
    </form>
  </DialogBox>
</template>

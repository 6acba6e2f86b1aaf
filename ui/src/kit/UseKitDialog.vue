<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, ApiError, sentenceOf } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import type { Kind } from '@/state/setup'

/** Uses a kit on a record by hand. */
const props = defineProps<{ open: boolean; id: number; name: string; kind: Kind }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const record = ref<number | null>(null)
const wrong = ref('')
watch(
  () => props.open,
  () => {
    record.value = null
    wrong.value = ''
  },
)

async function use() {
  try {
    await answerOf(api.POST('/api/copies', { body: { kit_id: props.id, record_id: record.value! } }))
    await router.push(`/record/${record.value}`)
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    wrong.value = fields[0] ?? sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`Use ${name} on a record`" @close="emit('close')">
    <form class="min-h-52" @submit.prevent="use">
      <FormRow :label="kind.label" plain :wrong="wrong">
        <RecordPicker v-model="record" :label="kind.label" :kind="kind.key" />
      </FormRow>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="!record">Use it</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
      </div>
    </form>
  </DialogBox>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'

/** Makes the paper that a task asks for; a task without answers is done by the same press, where that is wanted. */
const props = defineProps<{ panel: Schemas['Panel']; workable: boolean }>()
const emit = defineEmits<{ changed: []; done: [task: Schemas['Task']] }>()
const busy = ref(false)
const wrong = ref('')

async function fill(done: boolean) {
  busy.value = true
  wrong.value = ''
  try {
    const after = await answerOf(
      api.POST('/api/tasks/{id}/fill', { params: { path: { id: props.panel.task.id } }, body: { done } }),
    )
    if (done) emit('done', after.task)
    else emit('changed')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    wrong.value = fields[0] ?? sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section v-if="panel.fills" data-test="fill-paper">
    <div class="lab mb-1">Paper it asks for</div>
    <p v-if="!panel.fills.name" class="text-muted">The paper was taken away in the set-up.</p>
    <div v-else class="flex flex-wrap items-center gap-2">
      <span class="mr-auto font-semibold">{{ panel.fills.name }}</span>
      <template v-if="workable">
        <button type="button" class="btn" :aria-busy="busy" :disabled="busy" @click="fill(false)">Fill it in</button>
        <button
          v-if="!panel.task.answers.length"
          type="button"
          class="btn btn-go"
          :aria-busy="busy"
          :disabled="busy"
          @click="fill(true)"
        >
          Fill it in, and done
        </button>
      </template>
    </div>
    <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
  </section>
</template>

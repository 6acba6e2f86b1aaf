<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import FileList from '@/parts/FileList.vue'
import { useSetup } from '@/state/setup'

/** What people say about a task, and the files at it. */
const props = defineProps<{ panel: Schemas['Panel'] }>()
const emit = defineEmits<{ changed: [] }>()
const { nameOf } = useSetup()
const { moment } = useDates()
const text = ref('')
const wrong = ref('')
const busy = ref(false)
const path = () => ({ params: { path: { id: props.panel.task.id } } })

async function comment() {
  busy.value = true
  try {
    await answerOf(api.POST('/api/tasks/{id}/comments', { ...path(), body: { text: text.value } }))
    text.value = wrong.value = ''
    emit('changed')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    wrong.value = fields[0] ?? sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="lab mb-1">Said about it</div>
  <ul>
    <li v-for="one in panel.comments" :key="one.id" class="py-[3px]">
      <b class="font-semibold">{{ nameOf(one.by) }}</b> <span class="text-sm text-muted">{{ moment(one.at) }}</span>
      <span class="block break-words whitespace-pre-line">{{ one.text }}</span>
    </li>
  </ul>
  <form class="mt-1 flex items-start gap-2" @submit.prevent="comment">
    <textarea
      v-model="text"
      class="input"
      rows="1"
      aria-label="Comment"
      placeholder="Say something; @name tells them"
      maxlength="4000"
    />
    <button type="submit" class="btn btn-quiet" :disabled="busy || !text.trim()">Say it</button>
  </form>
  <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
  <FileList
    :id="panel.task.id"
    of="tasks"
    class="mt-2"
    :files="panel.files"
    :fixed="!panel.task.may_work"
    @changed="emit('changed')"
  />
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import { useSetup } from '@/state/setup'

/** What people say about a task, and the files at it. */
const props = defineProps<{ panel: Schemas['Panel'] }>()
const emit = defineEmits<{ changed: [] }>()
const { setup, nameOf } = useSetup()
const { moment } = useDates()
const { say, attempt } = useNotices()
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
/** As the server takes them; what is longer is not even sent. */
const MOST_BYTES = 10_000_000

async function upload(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  if (file.size > MOST_BYTES) {
    input.value = ''
    return say(`“${file.name}” has ${sized(file.size)}; at most ${sized(MOST_BYTES)} are taken.`, 'bad')
  }
  try {
    await answerOf(
      api.POST('/api/tasks/{id}/files', {
        params: { path: { id: props.panel.task.id }, query: { name: file.name } },
        body: file,
        bodySerializer: (body) => body,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    )
    emit('changed')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    say(fields[0] ?? sentenceOf(problem), 'bad')
  }
  input.value = ''
}
const remove = async (id: number) => {
  const gone = await attempt(() => answerOf(api.DELETE('/api/tasks/files/{id}', { params: { path: { id } } })))
  if (gone) emit('changed')
}
const sized = (bytes: number) =>
  bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
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
  <ul class="mt-2">
    <li v-for="file in panel.files" :key="file.id" class="flex items-baseline justify-between gap-2 py-[2px]">
      <a :href="`/api/tasks/files/${file.id}`" download class="min-w-0 break-all">{{ file.name }}</a>
      <span class="text-sm whitespace-nowrap text-muted"
        >{{ sized(file.size) }}
        <button
          v-if="panel.task.may_work"
          type="button"
          class="link"
          :aria-label="`Take away ${file.name}`"
          @click="remove(file.id)"
        >
          Take away
        </button></span
      >
    </li>
  </ul>
  <label
    v-if="panel.task.may_work"
    class="mt-1 inline-block cursor-pointer text-sm text-link hover:underline focus-within:outline-2"
  >
    Add a file
    <input type="file" class="sr-only" :accept="setup.file_types.map((one) => `.${one}`).join(',')" @change="upload" />
  </label>
</template>

<script setup lang="ts">
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { useSetup } from '@/state/setup'

/** The files at a task or a record: taken out, taken away, and one more added. */
const props = defineProps<{ of: 'tasks' | 'records'; id: number; files: Schemas['File'][]; fixed?: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const { setup } = useSetup()
const { say, attempt } = useNotices()
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
  const sent = {
    params: { path: { id: props.id }, query: { name: file.name } },
    body: file as Blob,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { 'Content-Type': 'application/octet-stream' },
  }
  try {
    await answerOf<unknown>(
      props.of === 'tasks' ? api.POST('/api/tasks/{id}/files', sent) : api.POST('/api/records/{id}/files', sent),
    )
    emit('changed')
  } catch (problem) {
    const fields = problem instanceof ApiError ? Object.values(problem.refusal.fields ?? {}) : []
    say(fields[0] ?? sentenceOf(problem), 'bad')
  }
  input.value = ''
}
const remove = async (id: number) => {
  const which = { params: { path: { id } } }
  const gone = await attempt(() =>
    answerOf<unknown>(
      props.of === 'tasks' ? api.DELETE('/api/tasks/files/{id}', which) : api.DELETE('/api/records/files/{id}', which),
    ),
  )
  if (gone) emit('changed')
}
/** Of a paper it is not known before it is printed. */
const sized = (bytes: number | null) => {
  if (bytes === null) return ''
  return bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}
</script>

<template>
  <ul>
    <li v-for="file in files" :key="file.id" class="flex items-baseline justify-between gap-2 py-1">
      <a :href="`/api/${of}/files/${file.id}`" download class="inline-block min-w-0 py-[3px] break-all">{{
        file.name
      }}</a>
      <span class="text-sm whitespace-nowrap text-muted"
        >{{ sized(file.size) }}
        <button
          v-if="!fixed"
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
    v-if="!fixed"
    class="mt-1 inline-block cursor-pointer text-sm text-link hover:underline focus-within:outline-2"
  >
    Add a file
    <input type="file" class="sr-only" :accept="setup.file_types.map((one) => `.${one}`).join(',')" @change="upload" />
  </label>
</template>

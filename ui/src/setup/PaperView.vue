<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { ref, useTemplateRef, watch } from 'vue'
import { sentenceOf, type Schemas } from '@/api/client'
import { drawPages } from '@/lib/pdf'
import RecordPicker from '@/parts/RecordPicker.vue'

/** What a paper comes to on a record. `fetch` gives it; it is asked anew when `version` is another. */
const props = defineProps<{
  kind: string
  version: string
  name: string
  fetch: (record: number) => Promise<Preview>
}>()
type Preview = { type: 'pdf' | 'docx' | 'odt'; data: string; words: string[] }
const record = defineModel<Pick<Schemas['Linked'], 'id' | 'title'> | null>('record', { required: true })
const found = ref<Preview | null>(null)
const wrong = ref('')
const busy = ref(false)
const pages = useTemplateRef<HTMLDivElement>('pages')
const { width } = useElementSize(pages)
let turn = 0

const bytesOf = (data: string) => Uint8Array.from(atob(data), (char) => char.charCodeAt(0))
async function draw(preview: Preview, mine: number) {
  const drawn = await drawPages(bytesOf(preview.data), Math.max(width.value - 2, 200))
  if (mine !== turn) return
  drawn.forEach((canvas, index) => {
    canvas.className = 'mb-3 w-full border border-line'
    canvas.setAttribute('role', 'img')
    canvas.setAttribute('aria-label', `Page ${index + 1} of ${drawn.length}`)
  })
  pages.value?.replaceChildren(...drawn)
}
async function look() {
  const mine = ++turn
  wrong.value = ''
  if (!record.value) return
  busy.value = true
  try {
    const preview = await props.fetch(record.value.id)
    if (mine !== turn) return
    found.value = preview
    if (preview.type === 'pdf') await draw(preview, mine)
    else pages.value?.replaceChildren()
  } catch (problem) {
    // What was drawn before stays beside the sentence.
    if (mine === turn) wrong.value = sentenceOf(problem)
  } finally {
    if (mine === turn) busy.value = false
  }
}
watch([record, () => props.version], look, { immediate: true })
const TYPES = {
  pdf: 'application/pdf',
  docx: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  odt: 'application/vnd.oasis.opendocument.text',
}
function keep() {
  const { type, data } = found.value!
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([bytesOf(data)], { type: TYPES[type] }))
  link.download = `${props.name || 'Paper'}.${type}`
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="mb-3 flex flex-wrap items-center gap-2">
    <span class="lab">As it comes out for</span>
    <RecordPicker
      :model-value="record?.id ?? null"
      label="Record to fill it in from"
      :kind="kind === 'record' ? null : kind"
      :shown="record?.title"
      class="min-w-0 flex-1"
      @chosen="(one) => (record = one)"
    />
    <button v-if="found" type="button" class="btn" @click="keep">Keep it as a file</button>
  </div>
  <p v-if="wrong" class="mb-3 border border-red px-3 py-2 text-red" role="alert">{{ wrong }}</p>
  <p v-if="!record" class="text-muted">Choose a record, and the paper is filled in from it here.</p>
  <div :aria-busy="busy" data-test="paper">
    <div v-if="found && found.type !== 'pdf'" class="border border-line bg-paper px-6 py-5">
      <p v-for="(line, index) in found.words" :key="index" class="min-h-[1lh] break-words whitespace-pre-line">
        {{ line }}
      </p>
      <p class="mt-4 text-sm text-muted">
        These are its words alone; keep it as a file to see it as your program shows it.
      </p>
    </div>
    <div ref="pages" />
  </div>
</template>

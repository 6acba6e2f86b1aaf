<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { wayWords } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import { useSetup } from '@/state/setup'
import LetterWords from './LetterWords.vue'

/** The latest notes of a record: to quote, and where they are one's own, to change. */
const props = defineProps<{ open: boolean; recordId: number }>()
const emit = defineEmits<{ close: []; changed: []; quote: [text: string] }>()
const { moment } = useDates()
const { nameOf } = useSetup()

const notes = ref<Schemas['Interaction'][]>([])
const count = ref(0)
const wrong = ref('')
const editing = ref<number | null>(null)
const text = ref('')

async function load() {
  wrong.value = ''
  editing.value = null
  try {
    const path = { id: props.recordId }
    const page = await answerOf(api.GET('/api/records/{id}/interactions', { params: { path } }))
    notes.value = page.interactions
    count.value = page.count
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
watch(
  () => props.open,
  (open) => open && load(),
)
async function earlier() {
  try {
    const params = { path: { id: props.recordId }, query: { before: notes.value.at(-1)!.id } }
    notes.value.push(...(await answerOf(api.GET('/api/records/{id}/interactions', { params }))).interactions)
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
function edit(note: Schemas['Interaction']) {
  editing.value = note.id
  text.value = note.text
}
async function keep() {
  try {
    const body = { interaction: editing.value!, text: text.value }
    await answerOf(api.PATCH('/api/records/{id}/interactions', { params: { path: { id: props.recordId } }, body }))
    await load()
    emit('changed')
  } catch (problem) {
    const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
    wrong.value = fields ? Object.values(fields).join(' ') : sentenceOf(problem)
  }
}
function quote(note: Schemas['Interaction']) {
  emit(
    'quote',
    `${note.text
      .split('\n')
      .map((line) => `> ${line}`)
      .join('\n')}\n`,
  )
  emit('close')
}
</script>

<template>
  <DialogBox :open="open" title="Notes and calls" wide @close="emit('close')">
    <p v-if="wrong" class="mb-2 text-red" role="alert">{{ wrong }}</p>
    <ul class="max-h-[60vh] overflow-y-auto">
      <li v-for="note in notes" :key="note.id" class="border-b border-line py-2">
        <div class="text-sm text-muted">
          {{ wayWords(note.way) }}
          <template v-if="note.letter">from {{ note.letter.name ?? '' }} {{ note.letter.sender }}</template
          ><template v-else>by {{ nameOf(note.who) }}</template
          >, {{ moment(note.at) }}{{ note.edited_at ? `, changed ${moment(note.edited_at)}` : '' }}
        </div>
        <template v-if="editing === note.id">
          <textarea v-model="text" class="input" rows="4" aria-label="Text of the note" />
          <div class="mt-1 flex gap-2">
            <button type="button" class="btn btn-go" @click="keep">Save</button>
            <button type="button" class="btn btn-quiet" @click="editing = null">Cancel</button>
          </div>
        </template>
        <template v-else>
          <p v-if="note.letter?.subject" class="font-semibold break-words">{{ note.letter.subject }}</p>
          <p class="break-words whitespace-pre-line">{{ note.text }}</p>
          <LetterWords v-if="note.letter" :letter="note.letter" />
          <span class="flex gap-3 text-sm">
            <button type="button" class="link" @click="quote(note)">Quote</button>
            <button v-if="note.mine" type="button" class="link" @click="edit(note)">Change</button>
          </span>
        </template>
      </li>
      <li v-if="notes.length < count" class="py-2">
        <button type="button" class="btn" @click="earlier">
          Show earlier ones, of {{ count.toLocaleString('en-GB') }} in all
        </button>
      </li>
    </ul>
    <p v-if="!notes.length && !wrong" class="text-muted">Nothing was logged here yet.</p>
  </DialogBox>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import type { Kind } from '@/state/setup'

/** Asks before an entry is taken off its list, and says what goes along. */
const props = defineProps<{ open: boolean; record: Schemas['Record']; kind: Kind }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { attempt } = useNotices()
const { data } = useLoaded(
  async () =>
    props.open
      ? await answerOf(api.GET('/api/records/{id}/hanging', { params: { path: { id: props.record.id } } }))
      : null,
  [() => props.open],
)
const along = computed(() => {
  if (!data.value) return ''
  const { notes, open_tasks: tasks, links } = data.value
  const all = [
    notes && counted(notes, 'note or call', 'notes and calls'),
    tasks && `${counted(tasks, 'open task')}, which ${tasks === 1 ? 'is' : 'are'} dropped`,
    links && counted(links, 'link'),
  ].filter(Boolean)
  return all.length ? `With it go ${all.join('; ')}.` : 'Nothing else hangs on it.'
})

async function takeOff() {
  const path = { id: props.record.id }
  if (await attempt(() => answerOf(api.DELETE('/api/records/{id}/lists', { params: { path } })), 'It is off the list.'))
    emit('done')
}
</script>

<template>
  <DialogBox :open="open" :title="`Take “${record.title}” off ${kind.plural}`" @close="emit('close')">
    <p class="mb-2">{{ along }}</p>
    <p class="mb-4 text-muted">You can bring it back from this page for 30 days, with all of that.</p>
    <div class="flex gap-2">
      <button type="button" class="btn btn-go" :disabled="!data" @click="takeOff">Take it off the list</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Leave it there</button>
    </div>
  </DialogBox>
</template>

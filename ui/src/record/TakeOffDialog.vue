<script setup lang="ts">
import { computed } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import type { Kind } from '@/state/setup'

/** Asks before a record is taken away, or an entry off its list, and says what goes along. */
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
  const { notes, open_tasks: tasks, links, kits, lists } = data.value
  const all = [
    notes && counted(notes, 'note or call', 'notes and calls'),
    tasks && `${counted(tasks, 'open task')}, which ${tasks === 1 ? 'is' : 'are'} dropped`,
    links && counted(links, 'link'),
    kits && `${counted(kits, 'kit')} in use, which ${kits === 1 ? 'rests' : 'rest'}`,
    lists && `its ${lists === 1 ? 'place' : 'places'} on ${counted(lists, 'list')}`,
  ].filter(Boolean)
  return all.length ? `With it go ${all.join('; ')}.` : 'Nothing else hangs on it.'
})

const entry = computed(() => props.kind.family === 'entry')
async function takeOff() {
  const params = { path: { id: props.record.id } }
  const done = entry.value
    ? await attempt(() => answerOf(api.DELETE('/api/records/{id}/lists', { params })), 'It is off the list.')
    : await attempt(() => answerOf(api.DELETE('/api/records/{id}', { params })), 'It lies in the trash.')
  if (done) emit('done')
}
</script>

<template>
  <DialogBox
    :open="open"
    :title="entry ? `Take “${record.title}” off ${kind.plural}` : `Take “${record.title}” away`"
    @close="emit('close')"
  >
    <p class="mb-2">{{ along }}</p>
    <p class="mb-4 text-muted">
      You can bring it back from this page{{ entry ? '' : ', or from the trash,' }} for 30 days, with all of that.
    </p>
    <div class="flex gap-2">
      <button type="button" class="btn btn-go" :disabled="!data" @click="takeOff">
        {{ entry ? 'Take it off the list' : 'Take it away' }}
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Leave it{{ entry ? ' there' : '' }}</button>
    </div>
  </DialogBox>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import TroubleBox from '@/parts/TroubleBox.vue'

/** Asks before a record that lies in the trash is erased for good, and names what goes and what stays. */
const props = defineProps<{ recordId: number; title: string; open: boolean }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { attempt } = useNotices()
const params = computed(() => ({ path: { id: props.recordId } }))
const { data, error, reload } = useLoaded(
  async () => (props.open ? await answerOf(api.GET('/api/trash/{id}', { params: params.value })) : null),
  [() => props.open],
)
const among = (linked: number) =>
  linked === 1
    ? 'the record that was linked with it, or those behind that, has'
    : `the ${linked} records that were linked with it, or those behind them, have`
const goes = computed(() => {
  if (!data.value) return []
  const { notes, files, tasks, messages, lists, linked } = data.value
  return [
    'all that its fields say, now and in its history',
    notes && counted(notes, 'note or call', 'notes and calls'),
    files && `${counted(files, 'file')}, those of its tasks too`,
    tasks && `what ${counted(tasks, 'task')} of it ${tasks === 1 ? 'says' : 'say'}, with comments`,
    messages && `what ${counted(messages, 'message')} about it ${messages === 1 ? 'says' : 'say'}`,
    lists && `its ${lists === 1 ? 'place' : 'places'} on ${counted(lists, 'list')}`,
    linked && `its name, mail addresses, phones and texts, wherever ${among(linked)} them, also in files`,
  ].filter(Boolean)
})
async function erase() {
  const words = `“${props.title}” is being erased.`
  if (await attempt(() => answerOf(api.DELETE('/api/trash/{id}', { params: params.value })), words)) emit('done')
}
</script>

<template>
  <DialogBox :open="open" :title="`Erase “${title}” for good`" @close="emit('close')">
    <TroubleBox v-if="error" :text="error" class="mb-3" @retry="reload" />
    <template v-else-if="data">
      <p class="mb-1">Nothing brings it back. What goes:</p>
      <ul class="mb-3 list-disc pl-5">
        <li v-for="one in goes" :key="String(one)">{{ one }}</li>
      </ul>
      <p class="mb-4 text-muted">
        What stays: that it was erased, when and by whom; that rules ran and tasks were done, without a word of it. A
        PDF that names it is kept as a plain text of its other words. Pictures are not read.
      </p>
    </template>
    <div class="flex gap-2">
      <button type="button" class="btn btn-go" :disabled="!data" @click="erase">Erase it for good</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Leave it in the trash</button>
    </div>
  </DialogBox>
</template>

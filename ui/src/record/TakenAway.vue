<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import EraseDialog from '@/record/EraseDialog.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** Where a record was taken away and can still be brought back; otherwise what stands in the slot. */
const props = defineProps<{ recordId: number }>()
const emit = defineEmits<{ back: [] }>()
const { nameOf, kindOf } = useSetup()
const { moment, day } = useDates()
const { attempt } = useNotices()
const { mayWriteRules: mayErase } = useSession()
const asked = ref(false)
const { data, loading, reload } = useLoaded(
  () => answerOf(api.GET('/api/records/{id}/trash', { params: { path: { id: props.recordId } } })).catch(() => null),
  [() => props.recordId],
)

function erased() {
  asked.value = false
  void reload()
}

const { data: merged } = useLoaded(
  () => answerOf(api.GET('/api/merges', { params: { query: { record: String(props.recordId) } } })).catch(() => null),
  [() => props.recordId],
)

async function bringBack() {
  const path = { id: props.recordId }
  if (await attempt(() => answerOf(api.POST('/api/records/{id}/trash', { params: { path } })), 'It is back.'))
    emit('back')
}
</script>

<template>
  <section v-if="data" class="p-5" aria-label="Taken away">
    <p class="text-muted">
      <RouterLink :to="`/records/${data.kind}`">{{ kindOf(data.kind)?.plural ?? data.kind }}</RouterLink> /
    </p>
    <h1 class="mb-2 text-xl font-bold">{{ data.title }}</h1>
    <p class="mb-1">It was taken away by {{ data.by ? nameOf(data.by) : 'Yenvo' }}, {{ moment(data.at) }}.</p>
    <p class="mb-4 text-muted">
      Until {{ day(data.until.slice(0, 10)) }} it can be brought back with its notes, files, links, tasks and kits. Then
      it is erased for good.
    </p>
    <button type="button" class="btn btn-go" @click="bringBack">Bring it back</button>
    <button v-if="mayErase" type="button" class="btn btn-quiet ml-2" @click="asked = true">Erase it for good</button>
    <EraseDialog :open="asked" :record-id="recordId" :title="data.title" @close="asked = false" @done="erased" />
  </section>
  <section v-else-if="merged?.became" class="p-5" aria-label="Merged">
    <h1 class="mb-2 text-xl font-bold">It was merged with another</h1>
    <p>
      All that hung on record {{ recordId }} hangs on
      <RouterLink :to="`/record/${merged.became.id}`" class="font-semibold">{{ merged.became.title }}</RouterLink> now.
    </p>
  </section>
  <slot v-else-if="!loading" />
</template>

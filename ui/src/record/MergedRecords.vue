<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import RecordPicker from '@/parts/RecordPicker.vue'
import { useSetup } from '@/state/setup'

/** What was merged into a record and can be parted, and the way to merge it with another that is the same. */
const props = defineProps<{ record: Schemas['Record'] }>()
const emit = defineEmits<{ changed: [] }>()
const router = useRouter()
const { nameOf } = useSetup()
const { moment, day } = useDates()
const { attempt } = useNotices()
const { data, reload } = useLoaded(
  () => answerOf(api.GET('/api/merges', { params: { query: { record: String(props.record.id) } } })),
  [() => props.record.version],
)
const choosing = ref(false)
function chosen(other: Schemas['Linked'] | null) {
  if (other && other.id !== props.record.id) void router.push(`/merge?records=${props.record.id},${other.id}`)
}
async function part(id: number) {
  if (
    await attempt(() => answerOf(api.DELETE('/api/merges/{id}', { params: { path: { id } } })), 'They are apart again.')
  ) {
    await reload()
    emit('changed')
  }
}
</script>

<template>
  <section aria-label="Merged" class="mt-4">
    <p v-for="merge in data?.merges ?? []" :key="merge.id" class="mb-1">
      Merged with {{ merge.titles.join(', ') }}, {{ moment(merge.at) }} by {{ merge.by ? nameOf(merge.by) : 'Yenvo' }}.
      <button v-if="record.may_change" type="button" class="link" @click="part(merge.id)">Part them again</button>
      <span class="text-muted"> until {{ day(merge.until.slice(0, 10)) }}</span>
    </p>
    <button v-if="record.may_change" type="button" class="link text-sm" @click="choosing = !choosing">
      {{ choosing ? 'Leave it as it is' : 'Merge with one that is the same' }}
    </button>
    <RecordPicker
      v-if="choosing"
      :model-value="null"
      :kind="record.kind"
      label="Record that is the same"
      class="mt-1"
      @chosen="chosen"
    />
  </section>
</template>

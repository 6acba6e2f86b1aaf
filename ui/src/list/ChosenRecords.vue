<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api } from '@/api/client'
import { counted } from '@/lib/words'
import TableLink from '@/parts/TableLink.vue'
import type { Kind } from '@/state/setup'
import StartRule from '@/record/StartRule.vue'
import BulkDialog from './BulkDialog.vue'

/** What can be done with the records that were chosen in a list, or with all that match. */
const props = defineProps<{ kind: Kind; query: Record<string, string>; shown: number; more: boolean }>()
const picked = defineModel<number[]>({ required: true })
/** Whether all that match are meant, also those that are not shown. */
const all = ref(false)
const count = ref(0)
const asking = ref(false)
watch(
  () => [picked.value.length, JSON.stringify(props.query)],
  () => (all.value = false),
)
async function chooseAll() {
  const found = await answerOf(
    api.GET('/api/records/count', { params: { query: { ...props.query, kind: props.kind.key } } }),
  )
  count.value = found.count
  all.value = true
}
const many = (number: number) => counted(number, props.kind.label.toLowerCase(), props.kind.plural.toLowerCase())
const chosen = computed(() => (all.value ? count.value : picked.value.length))
const merging = computed(
  () => !all.value && props.kind.family !== 'entry' && picked.value.length >= 2 && picked.value.length <= 10,
)
const table = computed(() => (all.value ? props.query : { kind: props.kind.key, ids: picked.value.join(',') }))
</script>

<template>
  <div
    v-if="picked.length"
    class="flex flex-wrap items-center gap-2 border-b border-pine bg-chosen px-3 py-2 sm:px-5"
    role="region"
    aria-label="What was chosen"
  >
    <b class="font-semibold" role="status">{{ many(chosen) }} chosen</b>
    <button v-if="!all && more && picked.length >= shown" type="button" class="link" @click="chooseAll">
      Choose all that match
    </button>
    <button type="button" class="link" @click="((picked = []), (all = false))">Choose none</button>
    <span class="ml-auto flex flex-wrap gap-2">
      <RouterLink v-if="merging" class="btn no-underline" :to="`/merge?records=${picked.join(',')}`">Merge…</RouterLink>
      <StartRule v-if="!all" :kind="kind" :records="picked" @started="picked = []" />
      <TableLink of="records" :query="table" />
      <button type="button" class="btn btn-go" @click="asking = true">Change {{ many(chosen) }}…</button>
    </span>
    <BulkDialog
      :open="asking"
      :kind="kind"
      :count="chosen"
      :records="all ? null : picked"
      :query="query"
      @close="asking = false"
    />
  </div>
</template>

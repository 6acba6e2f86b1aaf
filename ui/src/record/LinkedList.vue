<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'

/** What is linked with a record: all of it, page by page. Links that people drew can be taken away again. */
const props = defineProps<{ recordId: number; linked: Schemas['Linked'][]; count: number; fixed?: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const { attempt } = useNotices()
const more = ref<Schemas['Linked'][]>([])
watch(
  () => props.linked,
  () => (more.value = []),
)
const rows = computed(() => [...props.linked, ...more.value])

async function showMore() {
  const after = rows.value.at(-1)!.id
  const params = { path: { id: props.recordId }, query: { after } }
  await attempt(async () => {
    more.value.push(...(await answerOf(api.GET('/api/records/{id}/links', { params }))).linked)
  })
}
async function remove(one: Schemas['Linked']) {
  const body = { target: one.id }
  const params = { path: { id: props.recordId } }
  if (
    await attempt(
      () => answerOf(api.DELETE('/api/records/{id}/links', { params, body })),
      `No longer linked with ${one.title}.`,
    )
  )
    emit('changed')
}
</script>

<template>
  <dl v-if="rows.length" class="grid grid-cols-[116px_1fr] gap-x-[10px]">
    <template v-for="one in rows" :key="`${one.id}${one.field}`">
      <dt class="border-b border-line py-[5px] text-muted">{{ one.kind_label }}</dt>
      <dd class="flex items-baseline justify-between gap-2 border-b border-line py-[5px]">
        <span class="min-w-0 break-words">
          <RouterLink :to="`/record/${one.id}`">{{ one.title }}</RouterLink>
          <span v-if="one.field" class="text-sm text-muted"> as {{ one.field.toLowerCase() }}</span>
        </span>
        <button
          v-if="!one.field && !fixed"
          type="button"
          class="link text-sm"
          :aria-label="`Take away the link with ${one.title}`"
          @click="remove(one)"
        >
          Take away
        </button>
      </dd>
    </template>
  </dl>
  <p v-else class="text-muted">Nothing else leads here yet.</p>
  <button v-if="rows.length < count" type="button" class="btn mt-2" @click="showMore">
    Show more of {{ count.toLocaleString('en-GB') }}
  </button>
</template>

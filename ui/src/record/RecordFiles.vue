<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import FileList from '@/parts/FileList.vue'

/** The files of a record; `version` is another when something has happened to it. */
const props = defineProps<{ recordId: number; version: number; fixed: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const { data, reload } = useLoaded(
  () => answerOf(api.GET('/api/records/{id}/files', { params: { path: { id: props.recordId } } })),
  [() => props.recordId, () => props.version],
)
</script>

<template>
  <template v-if="data && (data.files.length || !fixed)">
    <h3 class="mt-5 mb-1">Files</h3>
    <FileList :id="recordId" of="records" :files="data.files" :fixed="fixed" @changed="(reload(), emit('changed'))" />
  </template>
</template>

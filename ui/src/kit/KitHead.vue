<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import TaskMark from '@/parts/TaskMark.vue'
import { tasksOf, type Kit } from './model'

/** The head of a kit's sheet: its name, what is known of it, and what can be done with it as a whole. */
const props = defineProps<{
  kit: Kit
  kept: Schemas['Kit'] | null
  saved: string
  fixed: boolean
  nextVersion: number
  unchanged: boolean
  publishing: boolean
  canUndo: boolean
  canRedo: boolean
}>()
const emit = defineEmits<{
  name: [name: string]
  undo: []
  redo: []
  mark: []
  drop: []
  paste: []
  rule: []
  use: []
  publish: []
}>()
const facts = computed(() =>
  [
    counted(tasksOf(props.kit).length, 'task'),
    props.kept?.used_by.length && `used by ${counted(props.kept.used_by.length, 'rule or kit', 'rules and kits')}`,
    props.kept?.running &&
      `${counted(props.kept.running, 'running copy keeps', 'running copies keep')} the version they began with`,
  ]
    .filter(Boolean)
    .join(' · '),
)
</script>

<template>
  <PageHead>
    <template #title>
      <span class="hidden text-muted sm:inline"><RouterLink to="/kits">Kits</RouterLink> /</span>
      <h1 class="min-w-0 basis-44">
        <span v-if="fixed" class="text-xl font-bold">{{ kit.name }}</span>
        <input
          v-else
          :value="kit.name"
          class="in-place w-full py-[2px] text-xl font-bold"
          aria-label="Name of the kit"
          placeholder="Name of the kit"
          maxlength="120"
          @input="emit('name', ($event.target as HTMLInputElement).value)"
        /></h1
    ></template>
    <template #default>
      <span class="min-w-0 flex-1 basis-60 text-muted">{{ facts }}</span>
      <span v-if="!fixed" class="text-sm text-muted" role="status">{{ saved }}</span>
      <span class="flex flex-wrap gap-2">
        <template v-if="!fixed">
          <button type="button" class="btn btn-quiet" :disabled="!canUndo" @click="emit('undo')">Undo</button>
          <button type="button" class="btn btn-quiet" :disabled="!canRedo" @click="emit('redo')">Redo</button>
          <button v-if="kept" type="button" class="btn btn-quiet" @click="emit('mark')">
            Mark <TaskMark v-if="kept.mark" :mark="kept.mark" />
          </button>
          <button v-if="kept?.draft" type="button" class="btn btn-quiet" @click="emit('drop')">
            Throw the draft away
          </button>
          <button type="button" class="btn btn-quiet" aria-keyshortcuts="l" @click="emit('paste')">Paste a list</button>
          <button v-if="kept?.state === 'on'" type="button" class="btn btn-quiet" @click="emit('rule')">
            Make a rule
          </button>
        </template>
        <button v-if="kept?.state === 'on'" type="button" class="btn" @click="emit('use')">Use on a record</button>
      </span>
    </template>
    <template #main
      ><button
        v-if="!fixed"
        type="button"
        class="btn btn-go"
        :disabled="publishing || unchanged"
        @click="emit('publish')"
      >
        {{ unchanged ? `Version ${kept!.version} is published` : `Publish version ${nextVersion}` }}
      </button></template
    >
  </PageHead>
</template>

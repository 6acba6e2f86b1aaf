<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import StateMark from '@/parts/StateMark.vue'
import TaskMark from '@/parts/TaskMark.vue'

/** The head of a rule sheet: its name, its state, and what can be done with it as a whole. */
defineProps<{
  name: string
  kept: Schemas['Rule'] | null
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
  pause: []
  resume: []
  drop: []
  publish: []
  run: []
  back: []
  mark: []
}>()
</script>

<template>
  <PageHead>
    <template #title>
      <span class="hidden text-muted sm:inline"><RouterLink to="/rules">Rules</RouterLink> /</span>
      <h1 class="min-w-0 flex-1 basis-56">
        <span v-if="fixed" class="text-xl font-bold">{{ name }}</span>
        <input
          v-else
          :value="name"
          class="in-place w-full py-[2px] text-[18px] font-bold"
          aria-label="Name of the rule"
          placeholder="Name of the rule"
          maxlength="120"
          @input="emit('name', ($event.target as HTMLInputElement).value)"
        />
      </h1>
      <StateMark v-if="kept" :state="kept.state" :version="kept.version"
    /></template>
    <template #default>
      <span v-if="kept?.version && kept.changes" class="flag bg-amber-bg text-amber"
        >Draft {{ nextVersion }} has {{ counted(kept.changes, 'change') }}</span
      >
      <span v-if="!fixed" class="text-sm text-muted" role="status">{{ saved }}</span>
      <span class="flex flex-wrap gap-2">
        <template v-if="!fixed">
          <button
            type="button"
            class="btn btn-quiet"
            :disabled="!canUndo"
            aria-keyshortcuts="Control+Z"
            aria-label="Undo"
            title="Undo, Ctrl Z"
            @click="emit('undo')"
          >
            ↶
          </button>
          <button
            type="button"
            class="btn btn-quiet"
            :disabled="!canRedo"
            aria-keyshortcuts="Control+Shift+Z"
            aria-label="Redo"
            title="Redo, Ctrl Shift Z"
            @click="emit('redo')"
          >
            ↷
          </button>
        </template>
        <button
          v-if="kept && !fixed"
          type="button"
          class="btn btn-quiet"
          aria-label="Mark of its tasks"
          @click="emit('mark')"
        >
          <TaskMark v-if="kept.mark" :mark="kept.mark" /><template v-else>Mark</template></button
        ><a v-if="kept" :href="`/api/rule-files/${kept.id}`" class="btn btn-quiet" download>Save as a file</a>
        <template v-if="!fixed">
          <button
            v-if="kept?.state === 'on' && kept.kind !== 'task'"
            type="button"
            class="btn btn-quiet"
            @click="emit('run')"
          >
            Run on matches
          </button>
          <button v-if="kept?.version" type="button" class="btn btn-quiet" @click="emit('back')">Take runs back</button>
          <button v-if="kept?.state === 'on'" type="button" class="btn btn-quiet" @click="emit('pause')">Pause</button>
          <button v-if="kept?.state === 'paused'" type="button" class="btn" @click="emit('resume')">Resume</button>
          <button v-if="kept?.draft" type="button" class="btn btn-quiet" @click="emit('drop')">
            Throw the draft away
          </button>
        </template>
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
  <p v-if="kept?.broken" class="border-b border-red bg-red-bg px-5 py-2" role="alert">
    Version {{ kept.version }} does not run: what it leans on is gone from the set-up. The checks say what; mend it,
    then publish it again.
  </p>
  <p v-if="kept?.paused_because" class="border-b border-amber bg-amber-bg px-5 py-2 text-amber" role="status">
    {{ kept.paused_because }} What happened meanwhile is not made up for. Look at its
    <RouterLink :to="`/trail?rule=${kept.id}`">runs</RouterLink>, mend it, then resume it.
  </p>
</template>

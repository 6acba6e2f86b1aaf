<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import type { Kit } from './model'

/** What keeps the kit from being published, and what is worth knowing before it. */
defineProps<{
  kit: Kit
  problems: { where: string; text: string; key: string | null }[]
  notes: { kind: string; text: string; tasks: string[] }[]
  ahead: { records: number; tasks: { number: number; title: string; count: number; example: string }[] } | null
  kinds: string
}>()
const emit = defineEmits<{ choose: [key: string] }>()
export type Checked = Schemas['Problem']
</script>

<template>
  <p v-if="!problems.length" class="mb-2">Nothing keeps it from being published.</p>
  <ul class="mb-3">
    <li v-for="problem in problems" :key="problem.where + problem.text" class="border-b border-line py-1">
      <span class="flag bg-red-bg text-red">To mend</span>
      <button v-if="problem.key" type="button" class="link ml-1 text-left" @click="emit('choose', problem.key)">
        {{ problem.where }}</button><span v-else class="ml-1">{{ problem.where }}</span>
      {{ problem.text }}
    </li>
    <li v-for="note in notes" :key="note.text" class="border-b border-line py-1">
      <span class="flag bg-amber-bg text-amber">{{
        note.kind === 'open' ? 'One way out is open' : 'Somebody has left'
      }}</span>
      <button type="button" class="ml-1 text-left hover:underline" @click="emit('choose', note.tasks[0]!)">
        {{ note.text }}
      </button>
    </li>
  </ul>
  <template v-if="ahead?.tasks.length">
    <p class="mb-1">
      Of the {{ counted(ahead.records, 'record') }} whose date is still ahead, some are so near that a task would be
      late from the start:
    </p>
    <ul>
      <li v-for="task in ahead.tasks" :key="task.number" class="border-b border-line py-1">
        <span class="flag bg-amber-bg text-amber">Past on {{ task.count }}</span> task {{ task.number }}, such as on
        {{ task.example }}
      </li>
    </ul>
  </template>
</template>

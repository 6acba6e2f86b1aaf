<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import PiecesText from '@/parts/PiecesText.vue'

/** The last steps of a task. */
defineProps<{ entries: Schemas['Entry'][] }>()
const { moment } = useDates()
</script>

<template>
  <section>
    <div class="lab mb-1">What happened to it</div>
    <ul>
      <li v-for="entry in entries.slice(0, 8)" :key="entry.id" class="text-muted">
        {{ moment(entry.at) }} <PiecesText :pieces="entry.words" />
      </li>
    </ul>
  </section>
</template>

<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Of a mail that came in: who wrote it, the files that came along, and on a press what it quotes. */
defineProps<{ letter: NonNullable<Schemas['Interaction']['letter']> }>()
</script>

<template>
  <p v-if="letter.files" class="text-sm break-words text-muted">Files on the record: {{ letter.files.join(', ') }}</p>
  <p v-if="letter.left_out" class="text-sm break-words text-amber">
    Came along and was not taken: {{ letter.left_out.join(', ') }}
  </p>
  <details v-if="letter.folded" class="text-sm">
    <summary class="link cursor-pointer">What it quotes</summary>
    <p class="break-words whitespace-pre-line text-muted">{{ letter.folded }}</p>
  </details>
</template>

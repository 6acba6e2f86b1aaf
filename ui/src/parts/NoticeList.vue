<script setup lang="ts">
import { useNotices } from '@/lib/useNotices'

const { notices, dismiss } = useNotices()
</script>

<template>
  <div
    class="pointer-events-none fixed right-4 bottom-4 z-50 flex max-w-[90vw] flex-col items-end gap-2"
    aria-live="polite"
  >
    <div
      v-for="notice in notices"
      :key="notice.id"
      class="pointer-events-auto flex max-w-md items-start gap-3 border bg-paper px-3 py-2"
      :class="notice.tone === 'bad' ? 'border-red bg-red-bg' : 'border-pine'"
    >
      <span class="break-words">{{ notice.text }}</span>
      <button v-if="notice.undo" type="button" class="link" @click="(notice.undo(), dismiss(notice.id))">
        Take back
      </button>
      <button type="button" class="text-muted hover:text-ink" aria-label="Close" @click="dismiss(notice.id)">×</button>
    </div>
  </div>
</template>

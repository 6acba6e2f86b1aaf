<script setup lang="ts">
import { piecesOf } from './model'

/** A text with its blanks shown as what they stand for. */
const props = defineProps<{ text: string; label: (path: string) => string }>()
const words: Record<string, string> = {
  'event.who': 'Who did it',
  'event.at': 'When it happened',
  today: 'Today',
  rule: 'Rule',
}
function name(path: string) {
  if (words[path]) return words[path]
  if (path.startsWith('before.')) return `${props.label(path.slice(7))} before`
  return props.label(path.replace(/^record\./, ''))
}
</script>

<template>
  <template v-for="(piece, index) in piecesOf(text)" :key="index"
    ><span v-if="piece.path" class="flag bg-band-2">{{ name(piece.path) }}</span
    ><template v-else>{{ piece.text }}</template></template
  ><span v-if="!text.trim()" class="text-red">Nothing written yet</span>
</template>

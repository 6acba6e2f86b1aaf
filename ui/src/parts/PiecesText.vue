<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'

/** What happened, as the core words it: each piece drawn as what it is. */
defineProps<{ pieces: Schemas['Piece'][] }>()
const { moment, day } = useDates()
</script>

<template>
  <template v-for="(piece, index) in pieces" :key="index"
    ><RouterLink v-if="piece.record" :to="`/record/${piece.record}`">{{ piece.title }}</RouterLink
    ><RouterLink v-else-if="piece.rule" :to="`/rules/${piece.rule}`">{{ piece.name }}</RouterLink
    ><b v-else-if="piece.strong">{{ piece.strong }}</b
    ><span v-else-if="piece.written" class="whitespace-pre-line">{{ piece.written }}</span
    ><span v-else-if="piece.muted" class="text-muted">{{ piece.muted }}</span
    ><span v-else-if="piece.alert" class="text-amber">{{ piece.alert }}</span
    ><template v-else-if="piece.day">{{ day(piece.day) }}</template
    ><template v-else-if="piece.moment">{{ moment(piece.moment) }}</template
    ><span v-else-if="piece.line" class="block text-sm"><PiecesText :pieces="piece.line" /></span
    ><template v-else>{{ piece.text }}</template></template
  >
</template>

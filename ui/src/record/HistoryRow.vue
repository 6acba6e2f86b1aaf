<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { counted } from '@/lib/words'
import PiecesText from '@/parts/PiecesText.vue'

/** One thing that happened: a square for what Yenvo did, a circle for what people did. */
defineProps<{ entry: Schemas['Entry'] }>()
const { moment } = useDates()
</script>

<template>
  <li class="grid grid-cols-[22px_1fr] gap-x-3 sm:grid-cols-[118px_22px_1fr_auto]">
    <span class="col-start-2 pt-[6px] text-muted sm:col-start-1 sm:text-right">{{ moment(entry.at) }}</span>
    <span class="relative col-start-1 row-span-3 row-start-1 self-stretch sm:col-start-2 sm:row-span-1">
      <span class="absolute inset-y-0 left-[10px] border-l-2 border-pine" />
      <span class="absolute top-[11px] left-[6px] size-[10px] bg-pine" :class="entry.who ? 'rounded-full' : ''" />
    </span>
    <span class="col-start-2 min-w-0 pt-[6px] pb-[3px] break-words sm:col-start-3">
      <PiecesText :pieces="entry.words" />
    </span>
    <span class="col-start-2 pb-1 text-sm sm:col-start-4 sm:pt-[6px] sm:text-right">
      <RouterLink v-if="entry.run" :to="`/trail?run=${entry.run}`">Why</RouterLink>
      <RouterLink
        v-else-if="entry.runs.length"
        :to="entry.runs.length === 1 ? `/trail?run=${entry.runs[0]!.id}` : `/trail?record=${entry.record_id}`"
        >{{ counted(entry.runs.length, 'rule') }} ran</RouterLink
      >
    </span>
  </li>
</template>

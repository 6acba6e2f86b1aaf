<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Each test with what was asked and the value it saw. */
defineProps<{ tests: Schemas['Test'][] }>()
const place = (row: string) => (row === 'only if' ? '' : row === 'otherwise' ? 'Otherwise · ' : `Branch ${row} · `)
</script>

<template>
  <ul>
    <li v-for="(test, index) in tests" :key="index" class="tested grid gap-x-2 border-b border-line py-[5px]">
      <span class="font-bold" :class="test.met ? 'text-leaf' : 'text-red'"
        >{{ test.met ? '✓' : '✗' }}<span class="sr-only">{{ test.met ? 'holds' : 'does not hold' }}</span></span
      >
      <span class="break-words" :style="{ paddingLeft: `${test.depth * 14}px` }"
        >{{ place(test.row) }}{{ test.label }}</span
      >
      <span class="col-start-2 break-words sm:col-start-auto">{{ test.phrase }}</span>
      <span class="col-start-2 break-words text-muted sm:col-start-auto sm:text-right sm:text-ink">{{
        test.seen
      }}</span>
    </li>
  </ul>
</template>

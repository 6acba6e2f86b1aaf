<script setup lang="ts">
import { computed } from 'vue'

/** Gives the list at hand out as a table, or contacts as cards: all pages of it, narrowed as it is. */
const props = defineProps<{ of: string; query: Record<string, unknown>; as?: 'table' | 'cards' }>()
const href = computed(() => {
  const given = Object.entries(props.query).filter(([, value]) => value !== undefined && value !== null)
  const query = new URLSearchParams(given.map(([name, value]) => [name, String(value)])).toString()
  return `/api/${props.of}/${props.as ?? 'table'}${query ? `?${query}` : ''}`
})
</script>

<template>
  <a class="btn btn-quiet whitespace-nowrap no-underline" :href="href" download>{{
    as === 'cards' ? 'As vCard' : 'As CSV'
  }}</a>
</template>

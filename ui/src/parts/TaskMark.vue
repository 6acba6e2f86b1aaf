<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** The mark of a rule or kit that its tasks carry: two letters, told apart by them first and by the ink besides. */
defineProps<{ mark: NonNullable<Schemas['Mark']>; title?: string }>()
const inks: Record<string, string> = {
  pine: 'border-pine text-pine',
  leaf: 'border-leaf text-leaf',
  sea: 'border-sea text-sea',
  blue: 'border-link text-link',
  plum: 'border-plum text-plum',
  red: 'border-red text-red',
  rust: 'border-amber text-amber',
  slate: 'border-muted text-muted',
}
</script>

<template>
  <span
    class="inline-block border-b-2 px-[2px] font-mono text-xs leading-tight font-semibold"
    :class="inks[mark.ink] ?? inks.pine"
    :title="title"
    >{{ mark.letters }}</span
  >
</template>

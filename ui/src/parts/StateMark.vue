<script setup lang="ts">
/** The state of a rule or kit: full square in use, half square paused, hollow square not in force. */
defineProps<{ state: 'on' | 'paused' | 'draft' | 'retired'; on?: string; version?: number | null }>()
const words = { on: 'On', paused: 'Paused', draft: 'Draft', retired: 'Out of use' }
</script>

<template>
  <span
    class="group inline-flex items-center gap-[7px] font-semibold whitespace-nowrap text-muted data-[state=on]:text-inherit"
    :data-state="state"
  >
    <i
      class="block size-[10px] border-[1.5px] border-pine bg-paper group-data-[state=on]:bg-pine group-data-[state=paused]:bg-[linear-gradient(90deg,var(--color-pine)_50%,var(--color-paper)_50%)]"
    />{{ state === 'on' ? (on ?? words.on) : words[state] }}<template v-if="version">, version {{ version }}</template>
  </span>
</template>

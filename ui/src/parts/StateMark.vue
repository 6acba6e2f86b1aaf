<script setup lang="ts">
/** The state of a rule: full square on, half square paused, hollow square draft. */
const props = defineProps<{ state: 'on' | 'paused' | 'draft'; version?: number | null }>()
const words = { on: 'On', paused: 'Paused', draft: 'Draft' }
const fill = {
  on: 'bg-pine',
  paused: 'bg-[linear-gradient(90deg,var(--color-pine)_50%,var(--color-paper)_50%)]',
  draft: 'bg-paper',
}
</script>

<template>
  <span
    class="inline-flex items-center gap-[7px] font-semibold whitespace-nowrap"
    :class="props.state === 'on' ? '' : 'text-muted'"
  >
    <i class="block size-[10px] border-[1.5px] border-pine" :class="fill[props.state]" />{{ words[props.state]
    }}<template v-if="version">, version {{ version }}</template>
  </span>
</template>

<script setup lang="ts">
import { computed } from 'vue'

/** Which branch was hit: a boxed number, ○ for the otherwise, a dashed box for none, ! for failed. */
const props = defineProps<{ branches: string[]; failed?: boolean }>()
const text = computed(() => {
  if (props.failed) return '!'
  if (props.branches.length === 0) return '–'
  return props.branches.map((branch) => (branch === 'otherwise' ? '○' : branch)).join(' ')
})
const spoken = computed(() => {
  if (props.failed) return 'failed'
  if (props.branches.length === 0) return 'no branch'
  return props.branches.map((branch) => (branch === 'otherwise' ? 'otherwise' : `branch ${branch}`)).join(', ')
})
</script>

<template>
  <span
    class="inline-grid h-[18px] min-w-5 place-items-center border-[1.5px] px-1 font-mono text-xs font-bold"
    :class="
      failed
        ? 'border-red bg-red text-white'
        : branches.length
          ? 'border-pine bg-pine text-white'
          : 'border-dashed border-muted text-muted'
    "
    ><span aria-hidden="true">{{ text }}</span
    ><span class="sr-only">{{ spoken }}</span></span
  >
</template>

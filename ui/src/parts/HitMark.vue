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
  <span class="hit" :data-state="failed ? 'failed' : branches.length ? 'hit' : 'none'"
    ><span aria-hidden="true">{{ text }}</span
    ><span class="sr-only">{{ spoken }}</span></span
  >
</template>

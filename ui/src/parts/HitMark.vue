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
    class="inline-grid h-[18px] min-w-5 place-items-center border-[1.5px] border-dashed border-muted px-1 font-mono text-xs font-bold text-muted data-[state=failed]:border-solid data-[state=failed]:border-red data-[state=failed]:bg-red data-[state=failed]:text-white data-[state=hit]:border-solid data-[state=hit]:border-pine data-[state=hit]:bg-pine data-[state=hit]:text-white"
    :data-state="failed ? 'failed' : branches.length ? 'hit' : 'none'"
    ><span aria-hidden="true">{{ text }}</span
    ><span class="sr-only">{{ spoken }}</span></span
  >
</template>

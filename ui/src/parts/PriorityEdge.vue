<script setup lang="ts">
/** How urgent a row is: the weight of its left edge. The word stands beside it wherever there is room. */
defineProps<{ priority: 'low' | 'normal' | 'high' | 'urgent' }>()
const edges = {
  low: 'border-l-2 border-dotted border-muted',
  normal: 'border-l-2 border-pine',
  high: 'border-l-[5px] border-pine',
  urgent: 'border-l-[7px] border-double border-red',
}
</script>

<template>
  <span class="absolute top-1 bottom-1 left-0 block w-0" :class="edges[priority]"
    ><span class="sr-only">{{ priority }}</span></span
  >
</template>

<script setup lang="ts">
/** Says what could not be fetched, and offers to try again. */
defineProps<{ text: string }>()
const emit = defineEmits<{ retry: [] }>()
</script>

<template>
  <div class="m-5 flex items-center gap-4 border border-red bg-red-bg px-4 py-3" role="alert">
    <span>{{ text }}</span>
    <button type="button" class="btn" @click="emit('retry')">Try again</button>
  </div>
</template>

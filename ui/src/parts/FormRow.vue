<script setup lang="ts">
import { useId } from 'vue'

/** A label over its control, and below it the sentence that says what is wrong. */
defineProps<{ label: string; wrong?: string; hint?: string; plain?: boolean }>()
const id = useId()
</script>

<template>
  <div class="mb-3">
    <component :is="plain ? 'span' : 'label'" class="lab mb-1 block" :for="plain ? undefined : id">{{
      label
    }}</component>
    <slot :id="id" :describedby="`${id}-note`" />
    <p v-if="wrong" :id="`${id}-note`" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
    <p v-else-if="hint" :id="`${id}-note`" class="mt-1 text-sm text-muted">{{ hint }}</p>
  </div>
</template>

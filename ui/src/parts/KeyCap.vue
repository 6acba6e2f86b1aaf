<script setup lang="ts">
/** A key, shown where it applies. Not for screen readers: the shortcut is told by aria-keyshortcuts on the button. */
defineProps<{ on?: 'dark' | 'light' }>()
</script>

<template>
  <kbd
    aria-hidden="true"
    class="rounded-xs border px-1 py-[1px] font-mono text-xs leading-none font-medium"
    :class="on === 'dark' ? 'border-pine bg-paper text-pine' : 'border-line bg-paper text-muted'"
    ><slot
  /></kbd>
</template>

<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { ref } from 'vue'

/**
 * The head of a page: what it is called, what can be done there, and the one step that matters most. On a phone the
 * page itself needs the room, so all but the name and that step stand behind a press.
 */
defineSlots<{ title(): unknown; default?(): unknown; main?(): unknown }>()
const narrow = useMediaQuery('(max-width: 639px)')
const open = ref(false)
</script>

<template>
  <div class="page-head flex flex-wrap items-center border-b border-pine bg-paper" data-test="page-head">
    <slot name="title" />
    <template v-if="narrow">
      <slot name="main" />
      <button
        v-if="$slots.default"
        type="button"
        class="btn btn-quiet ml-auto"
        :aria-expanded="open"
        @click="open = !open"
      >
        {{ open ? 'Less' : 'More' }}
      </button>
      <div v-if="open" class="flex w-full flex-wrap items-center gap-2"><slot /></div>
    </template>
    <template v-else>
      <slot />
      <slot name="main" />
    </template>
  </div>
</template>

<script setup lang="ts">
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'

/** Asks, before a paused rule goes on, what to do with timers that came due meanwhile. */
defineProps<{ held: number | null }>()
const emit = defineEmits<{ close: []; resume: [late: boolean] }>()
</script>

<template>
  <DialogBox :open="held !== null" title="Timers came due while it was paused" @close="emit('close')">
    <p class="mb-4">
      <b data-test="held-count">{{ counted(held ?? 0, 'timer') }}</b> of this rule came due meanwhile. They can fire
      now, marked late, each looking at its record as it is now; or they can be let go for good. What lies ahead is kept
      either way.
    </p>
    <div class="flex flex-wrap gap-2">
      <button type="button" class="btn btn-go" @click="emit('resume', false)">Resume, let them go</button>
      <button type="button" class="btn" @click="emit('resume', true)">
        Resume and fire {{ counted(held ?? 0, 'timer') }}
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Stay paused</button>
    </div>
  </DialogBox>
</template>

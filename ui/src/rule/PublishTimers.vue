<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import type { Kind } from '@/state/setup'

/** Asks, before a rule with timers is published, what to do about moments that are past already. */
export type Past = {
  timer: boolean
  per: string | null
  count: number
  looked_at: number
  more: boolean
  example: string | null
}
const props = defineProps<{ past: Past | null; kept: Schemas['Rule'] | null; kind: Kind; version: number }>()
const emit = defineEmits<{ close: []; publish: [past: 'skip' | 'fire'] }>()
const what = computed(() =>
  props.past?.per === 'task'
    ? counted(props.past.count, 'task')
    : counted(props.past?.count ?? 0, props.kind.label.toLowerCase(), props.kind.plural.toLowerCase()),
)
</script>

<template>
  <DialogBox :open="past !== null" title="Some moments are past already" @close="emit('close')">
    <template v-if="past">
      <p class="mb-3">
        For <b data-test="past-count">{{ past.more ? 'at least ' : '' }}{{ what }}</b> that meet the conditions now, the
        moment is past, {{ past.example }} among them. Nothing fires for these, unless you want it to.
      </p>
      <p class="mb-4 text-muted">Timers for what lies ahead are built at once, in the background.</p>
      <div class="flex flex-wrap gap-2">
        <button type="button" class="btn btn-go" @click="emit('publish', 'skip')">
          Publish version {{ version }}, leave the past alone
        </button>
        <button type="button" class="btn" @click="emit('publish', 'fire')">Publish and fire for {{ what }} now</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </template>
  </DialogBox>
</template>

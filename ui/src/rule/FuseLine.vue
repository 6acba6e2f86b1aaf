<script setup lang="ts">
import type { Rule } from './model'

/** After how many runs the rule pauses itself and tells its owner. */
defineProps<{ disabled?: boolean }>()
const rule = defineModel<Rule>({ required: true })

const whole = (event: Event, most: number) =>
  Math.min(most, Math.max(0, Math.round(Number((event.target as HTMLInputElement).value) || 0)))
function setFuse(name: 'per_hour' | 'per_record_day', event: Event) {
  const count = whole(event, 100_000)
  const fuse = { ...rule.value.fuse }
  if (count) fuse[name] = count
  else delete fuse[name]
  const { fuse: _gone, ...rest } = rule.value
  rule.value = Object.keys(fuse).length ? { ...rest, fuse } : rest
}
</script>

<template>
  <span class="flex items-center gap-1 text-muted" title="After so many runs the rule pauses itself and tells its owner"
    >fuse
    <input
      type="number"
      min="0"
      class="input !w-[64px]"
      :value="rule.fuse?.per_hour ?? ''"
      placeholder="none"
      aria-label="Fuse: runs an hour"
      :disabled="disabled"
      @change="setFuse('per_hour', $event)"
    />
    an hour,
    <input
      type="number"
      min="0"
      class="input !w-[64px]"
      :value="rule.fuse?.per_record_day ?? ''"
      placeholder="none"
      aria-label="Fuse: runs a record and day"
      :disabled="disabled"
      @change="setFuse('per_record_day', $event)"
    />
    a record and day</span
  >
</template>

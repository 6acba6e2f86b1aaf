<script setup lang="ts">
import { encode } from 'uqr'
import { computed } from 'vue'

/** A text as a QR code (ISO/IEC 18004). */
const props = defineProps<{ text: string; label: string }>()
const code = computed(() => encode(props.text, { border: 2 }))
const path = computed(() =>
  code.value.data.flatMap((row, y) => row.map((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : ''))).join(''),
)
</script>

<template>
  <svg
    class="size-44 border border-line bg-white"
    :viewBox="`0 0 ${code.size} ${code.size}`"
    role="img"
    :aria-label="label"
    shape-rendering="crispEdges"
  >
    <path :d="path" class="fill-ink" />
  </svg>
</template>

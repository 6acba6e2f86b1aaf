<script setup lang="ts">
/** The state of a rule or kit: full square in use, half square paused, hollow square not in force. */
defineProps<{ state: 'on' | 'paused' | 'draft' | 'retired'; on?: string; version?: number | null }>()
const words = { on: 'On', paused: 'Paused', draft: 'Draft', retired: 'Out of use' }
</script>

<template>
  <span class="state" :data-state="state"
    ><i />{{ state === 'on' ? (on ?? words.on) : words[state]
    }}<template v-if="version">, version {{ version }}</template></span
  >
</template>

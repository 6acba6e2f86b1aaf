<script setup lang="ts">
/** What was taken away of a part of the set-up, each with a press that brings it back. */
defineProps<{ rows: { key: string; name: string }[]; busy: boolean }>()
const emit = defineEmits<{ back: [row: { key: string; name: string }] }>()
</script>

<template>
  <section v-if="rows.length" class="mt-8">
    <h2 class="mb-1 text-lg font-semibold">Taken away</h2>
    <ul class="max-w-xl">
      <li v-for="one in rows" :key="one.key" class="flex items-center gap-3 border-b border-line py-1">
        <span class="font-semibold">{{ one.name }}</span>
        <button
          type="button"
          class="btn ml-auto"
          :aria-busy="busy"
          :aria-label="`Bring back ${one.name}`"
          @click="emit('back', one)"
        >
          Bring back
        </button>
      </li>
    </ul>
  </section>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'

/** A person or a queue. */
defineProps<{ label: string }>()
const value = defineModel<{ assignee: string | null; queue: string | null }>({ required: true })
const { setup, people } = useSetup()

const options = computed(() => [
  ...people.value.map((person) => ({
    value: `p:${person.key}`,
    words: person.away_until ? `${person.name} (away until ${person.away_until})` : person.name,
  })),
  ...setup.value.queues.map((queue) => ({ value: `q:${queue.key}`, words: `Queue ${queue.name}` })),
])
const chosen = computed({
  get: () => (value.value.assignee ? `p:${value.value.assignee}` : value.value.queue ? `q:${value.value.queue}` : null),
  set: (key) => {
    const name = key?.slice(2) ?? null
    value.value = key?.startsWith('q:') ? { assignee: null, queue: name } : { assignee: name, queue: null }
  },
})
</script>

<template>
  <SelectBox v-model="chosen" :options="options" :label="label" wide />
</template>

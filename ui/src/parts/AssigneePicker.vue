<script setup lang="ts">
import { computed } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import type { To } from '@/worklist/useTaskSteps'

/** A person, a queue, or somebody of a team: by turns or whoever has the lightest load. */
defineProps<{ label: string }>()
const value = defineModel<To>({ required: true })
const { setup, people } = useSetup()

const options = computed(() => [
  ...people.value.map((person) => ({
    value: `p:${person.key}`,
    words: person.away_until ? `${person.name} (away until ${person.away_until})` : person.name,
  })),
  ...setup.value.queues.map((queue) => ({ value: `q:${queue.key}`, words: `Queue ${queue.name}` })),
  ...setup.value.teams.flatMap((team) => [
    { value: `t:${team.key}`, words: `${team.name}, by turns` },
    { value: `l:${team.key}`, words: `${team.name}, lightest load` },
  ]),
])
const chosen = computed({
  get: () => {
    const { assignee, queue, team, team_way } = value.value
    if (team) return `${team_way === 'load' ? 'l' : 't'}:${team}`
    return assignee ? `p:${assignee}` : queue ? `q:${queue}` : null
  },
  set: (key) => {
    const name = key?.slice(2) ?? null
    const kind = key?.charAt(0)
    if (kind === 't' || kind === 'l')
      value.value = { assignee: null, queue: null, team: name, team_way: kind === 'l' ? 'load' : 'turns' }
    else value.value = kind === 'q' ? { assignee: null, queue: name } : { assignee: name, queue: null }
  },
})
</script>

<template>
  <SelectBox v-model="chosen" :options="options" :label="label" wide />
</template>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** Why a task is here: the rule, the branch, what it saw, and how assignee and dates came about. */
const props = defineProps<{ why: Schemas['Why'] }>()
const branch = computed(() => (props.why.branch === 'otherwise' ? 'otherwise' : `branch ${props.why.branch}`))
const seen = computed(() =>
  props.why.tests
    .filter((test) => test.label && test.seen)
    .map((test) => `${test.label} ${test.met ? test.phrase : `${test.phrase}: no`} (${test.seen})`),
)
</script>

<template>
  <p>
    <RouterLink :to="`/rules/${why.rule_id}`">{{ why.rule }}</RouterLink>, version {{ why.version }}, {{ branch }}
  </p>
  <div class="text-muted">Because {{ why.event }}.</div>
  <ul v-if="seen.length" class="mt-1 text-muted">
    <li v-for="line in seen" :key="line">{{ line }}</li>
  </ul>
  <div class="mt-1 text-muted">
    <template v-if="why.reason">It goes {{ why.reason }}. </template>
    <template v-for="note in why.notes" :key="note">{{ note.charAt(0).toUpperCase() + note.slice(1) }}. </template>
  </div>
  <RouterLink :to="`/trail?run=${why.run_id}`" class="mt-1 inline-block">The whole run</RouterLink>
</template>

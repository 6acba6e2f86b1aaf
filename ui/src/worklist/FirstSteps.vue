<script setup lang="ts">
import { computed } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { useDebounceFn } from '@vueuse/core'

/** What a new house still lacks, until all is done or put away. Each step ticks itself from what is true. */
const emit = defineEmits<{ task: [] }>()
const { attempt } = useNotices()
const { data, reload } = useLoaded(() => answerOf(api.GET('/api/first-steps')))
useLive(useDebounceFn(() => open.value && reload(), 500, { maxWait: 3000 }))

const WORDS: Record<Schemas['FirstSteps']['steps'][number]['key'], { title: string; why: string; to?: string }> = {
  people: {
    title: 'Invite somebody',
    why: 'Tasks go to persons; give each a sign-in of their own.',
    to: '/setup/people',
  },
  records: {
    title: 'Make records',
    why: 'A contact, a deal or a ticket: what your work is about.',
    to: '/records/contact',
  },
  rule: {
    title: 'Publish a rule',
    why: 'Take a ready one, fill in its blanks, and see what it would do.',
    to: '/rules?ready=1',
  },
  task: { title: 'Do a task', why: 'Make one, or wait for a rule to; open it and say how it went.' },
}
const open = computed(() => !!data.value && !data.value.away && data.value.steps.some((step) => !step.done))
const left = computed(() => data.value?.steps.filter((step) => !step.done).length ?? 0)
const next = computed(() => data.value?.steps.find((step) => !step.done)?.key)

async function putAway() {
  await attempt(async () => (data.value = await answerOf(api.DELETE('/api/first-steps'))))
}
</script>

<template>
  <section v-if="open" class="border-b border-line bg-paper px-3 py-3 sm:px-5" aria-label="First steps">
    <div class="mb-2 flex items-baseline gap-3">
      <h2 class="text-base font-semibold">First steps</h2>
      <span class="text-muted">{{ left }} left</span>
      <button type="button" class="link ml-auto" @click="putAway">Put away</button>
    </div>
    <ol class="grid gap-x-4 gap-y-2 sm:grid-cols-2 lg:grid-cols-4">
      <li
        v-for="(step, at) in data!.steps"
        :key="step.key"
        class="border-t-2 pt-1"
        :class="step.done ? 'border-leaf' : step.key === next ? 'border-gold' : 'border-line'"
      >
        <div class="flex items-baseline gap-2">
          <span class="font-mono text-sm text-muted" aria-hidden="true">{{ step.done ? '✓' : at + 1 }}</span>
          <span v-if="step.done" class="text-muted"
            >{{ WORDS[step.key].title }}<span class="sr-only">, done</span></span
          >
          <RouterLink v-else-if="WORDS[step.key].to" :to="WORDS[step.key].to!" class="font-semibold">{{
            WORDS[step.key].title
          }}</RouterLink>
          <button v-else type="button" class="link font-semibold" @click="emit('task')">
            {{ WORDS[step.key].title }}
          </button>
        </div>
        <p v-if="!step.done" class="text-sm text-muted">{{ WORDS[step.key].why }}</p>
      </li>
    </ol>
  </section>
</template>

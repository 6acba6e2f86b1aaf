<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import TroubleBox from '@/parts/TroubleBox.vue'
import TestList from './TestList.vue'

/** Why a rule did not run on an event, worked out from the journal. */
const props = defineProps<{ entry: number; rule: number }>()
const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/trail/why-not', { params: { query: { entry: props.entry, rule: props.rule } } })),
  [() => props.entry, () => props.rule],
)
const { moment } = useDates()
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else-if="data" class="flex flex-col gap-3">
    <div>
      <h2 class="inline text-lg font-bold">
        <RouterLink :to="`/rules/${data.rule.id}`" class="text-ink">{{ data.rule.name }}</RouterLink>
      </h2>
      <span v-if="data.version" class="ml-2 text-muted"
        >version {{ data.version }}, {{ data.ran ? 'would run' : 'did not run' }}</span
      >
    </div>
    <p>
      <span class="text-muted">When</span> {{ data.event
      }}<template v-if="data.record">
        on <RouterLink :to="`/record/${data.record.id}`">{{ data.record.title }}</RouterLink></template
      >
      <span class="text-muted"> {{ moment(data.event_at) }}</span>
    </p>
    <p class="border border-line bg-band px-3 py-2">
      {{ data.why }}<template v-if="!/[.]$/.test(data.why)">.</template>
    </p>
    <section v-if="data.tests.length">
      <h3>Tests</h3>
      <TestList :tests="data.tests" />
    </section>
    <p v-else-if="data.in_force" class="text-muted">The conditions were not reached.</p>
  </div>
</template>

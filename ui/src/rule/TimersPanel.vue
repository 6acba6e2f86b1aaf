<script setup lang="ts">
import { useIntervalFn, useTimeoutFn } from '@vueuse/core'
import { computed } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { counted } from '@/lib/words'
import HitMark from '@/parts/HitMark.vue'
import { triggersOf } from './model'
import type { Kind } from '@/state/setup'

/** The next firings of a rule as things stand, and how far building its timers is. */
const props = defineProps<{ kept: Schemas['Rule']; kind: Kind }>()
const { moment } = useDates()
const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/rules/{id}/timers', { params: { path: { id: props.kept.id } } })),
  [() => props.kept.id, () => props.kept.version, () => props.kept.state],
)
/** What happens is told at once; the timers that follow from it are kept a moment later. */
const { start: onceMore } = useTimeoutFn(() => void reload(), 2000, { immediate: false })
useLive(() => {
  onceMore()
  return reload()
})
const building = computed(() => data.value?.building ?? null)
useIntervalFn(() => building.value && reload(), 700)
const share = computed(() =>
  building.value ? Math.min(100, Math.round((100 * building.value.looked_at) / Math.max(1, building.value.total))) : 0,
)
const PURPOSE: Record<string, string> = { wait: 'a wait ends', ladder: 'a step of a ladder', rule: 'its day comes' }
</script>

<template>
  <div class="p-[14px]" data-test="timers">
    <p v-if="error && !data" class="text-red">{{ error }}</p>
    <template v-else-if="data">
      <template v-if="building">
        <p class="mb-1" role="status">
          Timers are being built: {{ building.looked_at.toLocaleString('en-GB') }} of
          {{ counted(building.total, kind.label.toLowerCase(), kind.plural.toLowerCase()) }}.
        </p>
        <div
          class="mb-3 h-2 border border-pine"
          role="progressbar"
          aria-label="Building timers"
          :aria-valuenow="share"
          aria-valuemin="0"
          aria-valuemax="100"
        >
          <div class="h-full bg-pine" :style="{ width: `${share}%` }" />
        </div>
      </template>
      <p v-if="kept.state === 'paused'" class="mb-3 border border-amber bg-amber-bg px-2 py-1 text-amber">
        Paused. Its timers are kept{{
          data.held ? `; ${counted(data.held, 'timer')} came due meanwhile` : ', and none has come due meanwhile'
        }}.
      </p>
      <p class="mb-2 text-muted">
        {{
          data.next.length ? 'The next firings, as things stand:' : 'Nothing lies ahead for this rule as things stand.'
        }}
      </p>
      <table v-if="data.next.length" class="ledger text-sm">
        <thead>
          <tr>
            <th>When</th>
            <th>About</th>
            <th class="w-[58px]">Branch</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, index) in data.next" :key="index">
            <td class="whitespace-nowrap tabular-nums">{{ moment(one.at) }}</td>
            <td>
              <RouterLink v-if="one.record" :to="`/record/${one.record.id}`">{{ one.record.title }}</RouterLink>
              <template v-else>{{
                triggersOf(kept.rule).some((one) => one.once)
                  ? 'no record'
                  : `each ${kind.label.toLowerCase()} that meets it`
              }}</template>
              <span v-if="one.task" class="text-muted"> · {{ one.task }}</span>
              <span v-if="PURPOSE[one.purpose] && one.purpose !== 'rule'" class="block text-muted">{{
                PURPOSE[one.purpose]
              }}</span>
              <span v-if="one.runs === false" class="block text-muted">not as it stands: {{ one.why }}</span>
              <span v-else-if="one.runs === null && one.why" class="block text-red">{{ one.why }}</span>
            </td>
            <td><HitMark v-if="one.runs !== null" :branches="one.branches" :failed="false" /></td>
          </tr>
        </tbody>
      </table>
      <p v-if="data.next.length === 20" class="mt-2 text-muted">These are the next 20; more follow.</p>
    </template>
    <p v-else class="text-muted">Looking at its timers.</p>
  </div>
</template>

<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { loadSetup, useSetup } from '@/state/setup'

/** Says on every page of the demo that its clock was moved, and how it stands. */
const { setup, now } = useSetup()
const { moment } = useDates()
const tick = ref(0)
useIntervalFn(() => tick.value++, 10_000)
const stands = computed(() => (void tick.value, void setup.value, moment(now().toISOString())))
useLive((news) => {
  if (news === null || news.clock) void loadSetup().catch(() => undefined)
})
</script>

<template>
  <p
    v-if="setup.clock_moved"
    class="border-b border-amber bg-amber-bg px-3 py-1 text-sm text-amber sm:px-5"
    role="status"
    data-test="moved-clock"
  >
    The clock of this demo was moved forward; it stands at <b>{{ stands }}</b>.
  </p>
</template>

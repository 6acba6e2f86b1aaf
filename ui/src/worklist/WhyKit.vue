<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useSetup } from '@/state/setup'

/** Why a task of a kit is here, and what comes after it. */
defineProps<{ why: Schemas['WhyKit'] }>()
const { nameOf } = useSetup()
const { moment } = useDates()
</script>

<template>
  <p>
    Task {{ why.number }} of the kit <RouterLink :to="`/kits/${why.kit_id}`">{{ why.kit }}</RouterLink>, version
    {{ why.version }}
  </p>
  <div class="text-muted">
    It comes {{ why.comes }}. The kit was begun {{ moment(why.begun_at)
    }}<template v-if="why.begun_by"> by {{ nameOf(why.begun_by) }}</template
    >.
  </div>
  <ul v-if="why.next.length" class="mt-1 text-muted">
    <li v-for="one in why.next" :key="one.title">Then {{ one.title }}, {{ one.comes }}</li>
  </ul>
  <RouterLink v-if="why.run_id" :to="`/trail?run=${why.run_id}`" class="mt-1 inline-block"
    >The run that began it</RouterLink
  >
</template>

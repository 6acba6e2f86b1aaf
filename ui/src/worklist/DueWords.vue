<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'

/** When a task is due, in words and with the colour of how late it is. */
const props = defineProps<{ task: Schemas['Task'] }>()
const { day } = useDates()

const when = computed(() => {
  const { due_on, due_at, group } = props.task
  if (!due_on) return 'no date'
  if (group === 'today') return due_at ?? 'today'
  return [day(due_on), props.task.late_days > 0 ? null : due_at].filter(Boolean).join(' ')
})
const late = computed(() => (props.task.late_days > 0 ? `, ${props.task.late_days} wd late` : ''))
</script>

<template>
  <span v-if="task.late" class="flag bg-red-bg text-red">{{ when }}{{ late }}</span>
  <span v-else class="whitespace-nowrap" :class="task.due_on ? '' : 'text-muted'">{{ when }}</span>
</template>

<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'

/** Notices, newest first; unread ones have a bar at their edge. */
defineProps<{ notices: Schemas['Notice'][] }>()
const emit = defineEmits<{ open: [notice: Schemas['Notice']] }>()
const { moment } = useDates()
const place = (notice: Schemas['Notice']) =>
  notice.task_id
    ? { path: '/worklist', query: { who: 'all', task: notice.task_id } }
    : notice.record
      ? `/record/${notice.record.id}`
      : notice.rule
        ? `/rules/${notice.rule.id}`
        : '/notices'
</script>

<template>
  <ul>
    <li
      v-for="notice in notices"
      :key="notice.id"
      class="border-b border-line py-2 pr-3 pl-3"
      :class="notice.read ? '' : 'border-l-4 border-l-gold bg-band !pl-2'"
    >
      <RouterLink :to="place(notice)" class="block text-ink" @click="emit('open', notice)">{{
        notice.text
      }}</RouterLink>
      <span class="text-sm text-muted"
        >{{ moment(notice.at)
        }}<template v-if="notice.rule">
          ·
          <RouterLink :to="notice.run_id ? `/trail?run=${notice.run_id}` : `/rules/${notice.rule.id}`">{{
            notice.rule.name
          }}</RouterLink></template
        ></span
      >
    </li>
    <li v-if="!notices.length" class="p-3 text-muted">Nobody has told you anything yet.</li>
  </ul>
</template>

<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import PriorityEdge from '@/parts/PriorityEdge.vue'
import { useSetup } from '@/state/setup'
import DueWords from '@/worklist/DueWords.vue'
import { useTaskSteps } from '@/worklist/useTaskSteps'

/** The open tasks of a record, at the Now line. */
defineProps<{ tasks: Schemas['Task'][]; count: number; recordId: number }>()
const emit = defineEmits<{ changed: [] }>()
const router = useRouter()
const { nameOf, queueName } = useSetup()
const { finish } = useTaskSteps()
const { say } = useNotices()
const place = (task: Schemas['Task']) => ({ path: '/worklist', query: { who: 'all', task: task.id } })

async function tick(task: Schemas['Task']) {
  if (task.answers.length) {
    say('This task asks how it went: choose an answer.')
    await router.push(place(task))
  } else if (await finish(task.id, null, null)) emit('changed')
}
</script>

<template>
  <ul v-if="tasks.length" class="border border-pine bg-paper sm:ml-[130px]">
    <li
      v-for="task in tasks"
      :key="task.id"
      class="relative grid grid-cols-[22px_1fr_auto] gap-2 border-line py-[7px] pr-[10px] pl-4 not-first:border-t"
    >
      <PriorityEdge :priority="task.priority" />
      <button
        v-if="task.may_work"
        type="button"
        class="mt-[2px] block size-[15px] border-[1.5px] border-pine bg-paper hover:bg-band-2"
        :aria-label="`Done: ${task.title}`"
        @click="tick(task)"
      />
      <span v-else />
      <span class="min-w-0 break-words"
        ><RouterLink :to="place(task)" class="font-semibold text-ink">{{ task.title }}</RouterLink>
        <span v-if="task.priority === 'urgent' || task.priority === 'high'" class="text-muted">
          {{ task.priority }}</span><br /><span class="text-muted"
          >{{ task.assignee ? nameOf(task.assignee) : `queue ${queueName(task.queue)}` }} ·
          <template v-if="task.kit"
            >from the kit <RouterLink :to="`/kits/${task.kit.id}`">{{ task.kit.name }}</RouterLink></template
          ><template v-else-if="task.rule"
            >from <RouterLink :to="`/trail?run=${task.run_id}`">{{ task.rule.name }}</RouterLink></template
          ><template v-else>made by {{ nameOf(task.made_by) }}</template></span
        ></span
      >
      <DueWords :task="task" />
    </li>
  </ul>
  <p v-if="tasks.length < count" class="py-1 sm:ml-[130px]">
    <RouterLink :to="{ path: '/worklist', query: { who: 'all', record: recordId } }"
      >All {{ count.toLocaleString('en-GB') }} open tasks in the worklist</RouterLink
    >
  </p>
  <p v-if="!tasks.length" class="border border-line bg-paper px-3 py-2 text-muted sm:ml-[130px]">No open tasks.</p>
</template>

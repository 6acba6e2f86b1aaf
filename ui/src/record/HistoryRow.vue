<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { counted, wayWords } from '@/lib/words'
import { useSetup, type Kind } from '@/state/setup'

/** One thing that happened: a square for what Yenvo did, a circle for what people did. */
const props = defineProps<{ entry: Schemas['Entry']; kind: Kind }>()
const { moment, day } = useDates()
const kitWords: Record<string, string> = {
  kit_begun: 'Begun: the kit',
  kit_done: 'Finished: the kit',
  kit_stopped: 'Stopped: the kit',
  kit_passed: 'Skipped a task of',
  kit_moved_on: 'Goes on by another version:',
  kit_stuck: 'Cannot go on: the kit',
}
const timerWords: Record<string, string> = {
  date: 'A date came near',
  quiet: 'It was quiet',
  schedule: 'Its day came',
  day: 'A day made it true',
  wait: 'A wait ended',
  ladder: 'A step of a ladder',
}
const { setup, nameOf, queueName } = useSetup()
const listName = computed(
  () => setup.value.kinds.find((one) => one.key === `entry/${props.entry.detail.list}`)?.plural ?? 'a list',
)

const who = computed(() => nameOf(props.entry.who))
const noun = computed(() => props.kind.label.toLowerCase())
const moved = computed(() => props.entry.changes.find((change) => change.field === 'stage'))
const others = computed(() => props.entry.changes.filter((change) => change.field !== 'stage'))
const target = computed(() => {
  const { assignee, queue } = props.entry.detail
  return assignee ? nameOf(assignee) : queue ? `the queue ${queueName(queue)}` : 'nobody'
})
const was = computed(() => {
  const name = props.entry.detail.was
  return name ? (queueName(name) !== name ? queueName(name) : nameOf(name)) : ''
})
// Taking a task from a queue is written down as passing it on to oneself.
const taken = computed(
  () => props.entry.who !== null && props.entry.detail.assignee === props.entry.who && was.value !== '',
)
</script>

<template>
  <li class="grid grid-cols-[22px_1fr] gap-x-3 sm:grid-cols-[118px_22px_1fr_auto]">
    <span class="col-start-2 pt-[6px] text-muted sm:col-start-1 sm:text-right">{{ moment(entry.at) }}</span>
    <span class="relative col-start-1 row-span-3 row-start-1 self-stretch sm:col-start-2 sm:row-span-1">
      <span class="absolute inset-y-0 left-[10px] border-l-2 border-pine" />
      <span class="absolute top-[11px] left-[6px] size-[10px] bg-pine" :class="entry.who ? 'rounded-full' : ''" />
    </span>
    <span class="col-start-2 min-w-0 pt-[6px] pb-[3px] break-words sm:col-start-3">
      <template v-if="entry.what === 'record_made'"
        ><template v-if="entry.detail.door">A {{ entry.detail.door }} came in and made this {{ noun }}</template
        ><template v-else>{{ who }} made this {{ noun }}</template></template
      >
      <template v-else-if="entry.what === 'record_changed'">
        {{ who }}
        <template v-if="moved"
          >moved the {{ noun }} from {{ moved.from }} to <b>{{ moved.to }}</b><template v-if="others.length"
            >; also changed
          </template></template
        ><template v-else>changed </template
        ><template v-for="(change, index) in others" :key="change.field"
          ><template v-if="index">, </template>{{ change.label }} from {{ change.from }} to
          <b>{{ change.to }}</b></template
        >
      </template>
      <template v-else-if="entry.what === 'interaction_logged'"
        >{{ who }} logged a <b>{{ wayWords(entry.detail.way ?? '').toLowerCase() }}</b>.
        <span class="whitespace-pre-line">{{ entry.detail.text }}</span></template
      >
      <template v-else-if="entry.what === 'linked'"
        >{{ who }} linked
        <RouterLink :to="`/record/${entry.detail.record ?? entry.detail.target}`">{{
          entry.detail.title
        }}</RouterLink></template
      >
      <template v-else-if="entry.what === 'unlinked'"
        >{{ who }} took away the link with
        <RouterLink :to="`/record/${entry.detail.record}`">{{ entry.detail.title }}</RouterLink></template
      >
      <template v-else-if="entry.what === 'put_on_list'"
        >{{ who }} put it on <RouterLink :to="`/record/${entry.detail.record}`">{{ listName }}</RouterLink></template
      >
      <template v-else-if="entry.what === 'note_edited'"
        >{{ who }} changed a note. <span class="whitespace-pre-line">{{ entry.detail.text }}</span></template
      >
      <template v-else-if="entry.what === 'started'"
        >{{ who }} started the rule <b>{{ entry.detail.name }}</b>{{
          entry.detail.job ? ' on all that match' : ''
        }}</template
      >
      <template v-else-if="entry.what === 'kit_dated'"
        >{{ 'to' in entry.detail ? `${entry.detail.why} moved, so the` : `By ${entry.detail.why} the` }} open tasks of
        <b>{{ entry.detail.kit }}</b> have other dates:
        <span v-for="one in entry.detail.moved ?? []" :key="one.title" class="block text-muted"
          >{{ one.title }}: {{ one.from ? day(one.from) : 'no date' }} becomes
          {{ one.to ? day(one.to) : 'no date' }}</span
        ><span v-if="entry.detail.kept?.length" class="block text-muted"
          >Dated by hand, so they stay: {{ entry.detail.kept.join(', ') }}</span
        ></template
      >
      <template v-else-if="entry.what.startsWith('kit_')"
        >{{ kitWords[entry.what] ?? entry.what }} <b>{{ entry.detail.kit }}</b>
        <span class="text-muted">{{ entry.detail.task ?? entry.detail.why }}</span></template
      >
      <template v-else-if="entry.what === 'timer_fired'"
        >{{ timerWords[entry.detail.timer ?? ''] ?? 'A timer fired' }}: <b>{{ entry.detail.name }}</b><template
          v-if="entry.detail.title"
        >
          · {{ entry.detail.title }}</template
        ><span v-if="entry.detail.late" class="text-amber">
          late, it was due {{ moment(entry.detail.due ?? entry.at) }}</span
        ></template
      >
      <template v-else-if="entry.what === 'task_late'"
        ><b>{{ entry.detail.title }}</b> got late</template
      >
      <template v-else-if="entry.what === 'commented'"
        >{{ who }} about <b>{{ entry.detail.title }}</b>: {{ entry.detail.text }}</template
      >
      <template v-else-if="entry.what === 'file_added' || entry.what === 'file_removed'"
        >{{ who }} {{ entry.what === 'file_added' ? 'added' : 'took away' }} the file {{ entry.detail.text }} at
        <b>{{ entry.detail.title }}</b></template
      >
      <template v-else-if="entry.what === 'task_changed' && entry.detail.taken_back"
        >{{ who }} took the last step of <b>{{ entry.detail.title }}</b> back</template
      >
      <template v-else-if="entry.what === 'told'">{{ who }} told: {{ entry.detail.text }}</template>
      <template v-else-if="entry.what === 'task_made'"
        >{{ who }} made the task <b>{{ entry.detail.title }}</b> for {{ target }}</template
      >
      <template v-else-if="entry.what === 'task_done'"
        ><b>{{ entry.detail.title }}</b> done by {{ who
        }}<template v-if="entry.detail.answer">, answer: {{ entry.detail.answer }}</template
        ><template v-if="entry.detail.note"> · {{ entry.detail.note }}</template></template
      >
      <template v-else-if="entry.what === 'task_dropped'"
        >{{ who }} dropped <b>{{ entry.detail.title }}</b><template v-if="entry.detail.note">
          · {{ entry.detail.note }}</template
        ></template
      >
      <template v-else-if="entry.what === 'task_changed' && entry.detail.undone"
        >{{ who }} put <b>{{ entry.detail.title }}</b> back to what it was</template
      >
      <template v-else-if="entry.what === 'task_changed' && (entry.detail.priority || entry.detail.state)"
        >{{ who }} changed <b>{{ entry.detail.title }}</b>{{
          entry.detail.priority ? ` to ${entry.detail.priority} priority` : ''
        }}{{ entry.detail.due_on ? `, due ${day(entry.detail.due_on)}` : ''
        }}{{ entry.detail.state ? `, ${entry.detail.state}` : '' }}</template
      >
      <template v-else-if="entry.what === 'task_changed' && entry.detail.due_on"
        >{{ who }} put off <b>{{ entry.detail.title }}</b> to {{ day(entry.detail.due_on) }}
        {{ entry.detail.due_at }}</template
      >
      <template v-else-if="entry.what === 'task_changed' && taken"
        >{{ who }} took <b>{{ entry.detail.title }}</b> from the queue {{ was }}</template
      >
      <template v-else-if="entry.what === 'task_changed'"
        >{{ who }} passed <b>{{ entry.detail.title }}</b> on to {{ target }}{{ was ? `, from ${was}` : '' }}</template
      >
      <template v-else>{{ who }}: {{ entry.what.replaceAll('_', ' ') }}</template>
      <span v-for="rule in entry.detail.rules ?? []" :key="rule.id" class="block text-sm text-muted"
        >before the save, <RouterLink :to="`/rules/${rule.id}`">{{ rule.name }}</RouterLink>:
        {{ rule.words.join('; ') }}</span
      >
    </span>
    <span class="col-start-2 pb-1 text-sm sm:col-start-4 sm:pt-[6px] sm:text-right">
      <RouterLink v-if="entry.run" :to="`/trail?run=${entry.run}`">Why</RouterLink>
      <RouterLink
        v-else-if="entry.runs.length"
        :to="entry.runs.length === 1 ? `/trail?run=${entry.runs[0]!.id}` : `/trail?record=${entry.record_id}`"
        >{{ counted(entry.runs.length, 'rule') }} ran</RouterLink
      >
    </span>
  </li>
</template>

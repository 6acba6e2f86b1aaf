<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { counted } from '@/lib/words'
import HitMark from '@/parts/HitMark.vue'
import TestList from '@/trail/TestList.vue'
import RecordPicker from '@/parts/RecordPicker.vue'
import type { Kind } from '@/state/setup'
import IfChanged from './IfChanged.vue'
import MessageShown from './MessageShown.vue'
import { isTask, type Rule } from './model'
import TryFilter from './TryFilter.vue'

type Row = { id: number; title: string; branches: string[]; why: string; failed: boolean }
export type Found = { looked_at: number; counts: Record<string, number>; rows: Row[]; next: unknown }

/** What the draft would do to live records, as it stands on screen. Nothing is written. */
const props = defineProps<{
  kind: Kind
  found: Found | null
  plan: Schemas['Plan'] | null
  wrong: string | null
  chosen: number | null
  show: string | null
  busy: boolean
  rule: Rule
  chosenTitle: string
}>()
const filter = defineModel<Schemas['Filter']>('filter', { required: true })
const change = defineModel<Record<string, unknown> | null>('change', { required: true })
const emit = defineEmits<{
  choose: [id: number, title: string]
  show: [label: string | null]
  more: []
}>()
const { day } = useDates()

const noun = computed(() => props.kind.plural.toLowerCase())
const runs = computed(() => (props.found ? props.found.looked_at - (props.found.counts.skip ?? 0) : 0))
const labels = computed(() => Object.keys(props.found?.counts ?? {}).sort())
const word = (label: string) => (label === 'skip' ? 'no run' : label === 'otherwise' ? '○' : label)
const verdict = computed(() => {
  if (!props.plan) return ''
  if (props.plan.state !== 'run') return 'would get nothing'
  const tasks = props.plan.tasks.length
  const rest = props.plan.effects.length
  const said = [tasks || !rest ? `get ${counted(tasks, 'task')}` : '', rest ? `see ${counted(rest, 'change')}` : '']
  return `would ${said.filter(Boolean).join(' and ')}`
})
</script>

<template>
  <div>
    <TryFilter v-if="!isTask(kind)" v-model="filter" :kind="kind" />
    <p v-if="wrong" class="m-3 border border-line bg-amber-bg px-3 py-2 text-amber" role="status">{{ wrong }}</p>
    <template v-if="found">
      <div class="flex items-center justify-between px-[14px] py-2">
        <span class="lab">{{ kind.plural }} it would meet now</span>
        <span class="text-muted" role="status" data-test="try-count"
          >{{ runs.toLocaleString('en-GB') }} of {{ found.looked_at.toLocaleString('en-GB')
          }}{{ found.next ? '+' : '' }} would run</span
        >
      </div>
      <div v-if="labels.length > 1" class="flex flex-wrap gap-1 px-[14px] pb-2" role="group" aria-label="Show only">
        <button
          type="button"
          class="flag border"
          :class="show === null ? 'border-pine bg-chosen' : 'border-line bg-paper'"
          :aria-pressed="show === null"
          @click="emit('show', null)"
        >
          all
        </button>
        <button
          v-for="label in labels"
          :key="label"
          type="button"
          class="flag border"
          :class="show === label ? 'border-pine bg-chosen' : 'border-line bg-paper'"
          :aria-pressed="show === label"
          @click="emit('show', label)"
        >
          {{ word(label) }}: {{ found.counts[label]!.toLocaleString('en-GB') }}
        </button>
      </div>
      <p v-if="!found.looked_at" class="px-[14px] py-3 text-muted">
        None of the {{ noun }} stands where the trigger could meet it now.
      </p>
      <div v-else class="max-h-[290px] overflow-y-auto" :aria-busy="busy">
        <table class="ledger text-sm">
          <thead class="sticky top-0">
            <tr>
              <th class="w-[60px]">Branch</th>
              <th>{{ kind.label }}</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="row in found.rows"
              :key="row.id"
              :data-chosen="row.id === chosen"
              class="cursor-pointer"
              @click="emit('choose', row.id, row.title)"
            >
              <td><HitMark :branches="row.branches" :failed="row.failed" /></td>
              <td>
                <button
                  type="button"
                  class="text-left hover:underline"
                  :class="row.branches.length ? 'font-semibold' : ''"
                >
                  {{ row.title }}
                </button>
              </td>
              <td class="break-words" :class="row.branches.length ? '' : 'text-muted'">{{ row.why }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="found.rows.length < found.looked_at" class="px-[14px] py-2 text-sm text-muted">
          The newest {{ found.rows.length }} are listed.
        </p>
        <button v-if="found.next" type="button" class="btn m-3" @click="emit('more')">Look at older {{ noun }}</button>
      </div>
    </template>
    <p v-else-if="!wrong" class="px-[14px] py-3 text-muted">Trying it on live records.</p>

    <div v-if="found && !isTask(kind)" class="border-t border-line px-[14px] py-2">
      <RecordPicker
        :model-value="null"
        :label="`Try one ${kind.label.toLowerCase()}`"
        :kind="kind.key"
        :blank="`Try another ${kind.label.toLowerCase()}`"
        @chosen="(record) => record && emit('choose', record.id, record.title)"
      />
    </div>
    <div v-if="chosen !== null && (plan || change)" class="border-t border-pine bg-desk px-[14px] py-[10px]">
      <div class="flex justify-between gap-3">
        <b data-test="verdict">{{ chosenTitle }} {{ verdict }}</b>
        <RouterLink v-if="!isTask(kind)" :to="`/record/${chosen}`" class="whitespace-nowrap"
          >Open the {{ kind.label.toLowerCase() }}</RouterLink
        >
      </div>
      <IfChanged v-if="!isTask(kind)" :key="chosen" v-model="change" :kind="kind" :rule="rule" :title="chosenTitle" />
      <template v-if="plan">
        <ul v-if="plan.state === 'run'" class="mt-[6px] text-sm">
          <li v-for="(task, index) in plan.tasks" :key="`t${index}`" class="border-b border-line py-1">
            <div class="flex justify-between gap-3">
              <span class="min-w-0 break-words">{{ task.title }}</span>
              <span class="whitespace-nowrap"
                >{{ task.due ? [day(task.due.on), task.due.at].filter(Boolean).join(' ') : 'no date' }}
                <span v-if="task.due?.moved_from" class="flag bg-amber-bg text-amber">moved</span></span
              >
            </div>
            <div class="text-muted">{{ [task.reason, ...task.notes].join(' · ') }}</div>
          </li>
          <li v-for="(effect, index) in plan.effects" :key="`e${index}`" class="border-b border-line py-1">
            {{ effect.title
            }}<span v-if="effect.meets !== null" class="text-muted"> ({{ counted(effect.meets, 'task') }} now)</span>
            <MessageShown v-if="effect.message" :message="effect.message" />
            <div v-if="effect.reason || effect.notes.length" class="text-muted">
              {{ [effect.reason, ...effect.notes].filter(Boolean).join(' · ') }}
            </div>
          </li>
        </ul>
        <p v-else class="mt-1 text-muted">{{ plan.why }}</p>
      </template>
      <details v-if="plan" class="mt-2">
        <summary class="cursor-pointer text-link">Each test with its value</summary>
        <TestList class="text-sm" :tests="plan.tests" />
        <p v-if="!plan.tests.length" class="text-muted">No condition was asked.</p>
      </details>
    </div>
  </div>
</template>

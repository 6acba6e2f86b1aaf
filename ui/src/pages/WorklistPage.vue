<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useKeys } from '@/lib/useKeys'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted, wayWords } from '@/lib/words'
import KeyCap from '@/parts/KeyCap.vue'
import PriorityEdge from '@/parts/PriorityEdge.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import DueWords from '@/worklist/DueWords.vue'
import NewTaskDialog from '@/worklist/NewTaskDialog.vue'
import TaskSlip from '@/worklist/TaskSlip.vue'
import { useTaskSteps } from '@/worklist/useTaskSteps'

type Task = Schemas['Task']
const route = useRoute()
const router = useRouter()
const { people, nameOf, queueName } = useSetup()
const { day, today, moment } = useDates()
const { finish } = useTaskSteps()
const { say } = useNotices()
const wide = useMediaQuery('(min-width: 900px)')
const roomy = useMediaQuery('(min-width: 1024px)')
const narrow = useMediaQuery('(max-width: 639px)')
const columns = computed(() => (narrow.value ? 2 : roomy.value ? 6 : 4))

const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
const set = (changes: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...changes } })

// Whose tasks: "me", "all", a person, or "q:" and a queue.
const who = computed({
  get: () => text('who') || 'me',
  set: (value) => set({ who: value === 'me' ? undefined : value, task: undefined }),
})
const state = computed({
  get: () => text('state') || 'open',
  set: (value) => set({ state: value === 'open' ? undefined : value, task: undefined }),
})
const rule = computed({
  get: () => text('rule') || '',
  set: (value) => set({ rule: value || undefined, task: undefined }),
})

const more = ref<Task[]>([])
const next = ref<string | null>(null)
const query = () => ({
  state: state.value as 'open' | 'done',
  ...(who.value.startsWith('q:') ? { who: 'all', queue: who.value.slice(2) } : { who: who.value }),
  ...(rule.value ? { rule: Number(rule.value) } : {}),
})
const { data, error, reload } = useLoaded(async () => {
  const page = await answerOf(api.GET('/api/worklist', { params: { query: query() } }))
  more.value = []
  next.value = page.next
  return page
}, [who, state, rule])
useLive(() => reload())

async function loadMore() {
  const page = await answerOf(api.GET('/api/worklist', { params: { query: { ...query(), after: next.value! } } }))
  more.value.push(...page.tasks)
  next.value = page.next
}

const tasks = computed(() => [...(data.value?.tasks ?? []), ...more.value])
const groups = computed(() => {
  if (state.value === 'done')
    return tasks.value.length
      ? [{ name: 'Done or dropped in the last 14 days', note: '', tone: '', tasks: tasks.value }]
      : []
  const names = { late: 'Late', today: 'Today', week: 'This week', later: 'Later', none: 'Without a date' }
  return (Object.keys(names) as Task['group'][])
    .map((group) => ({
      name: names[group],
      note: group === 'today' ? day(today()) : '',
      tone: group === 'late' ? 'text-red' : group === 'today' ? 'text-amber' : '',
      tasks: tasks.value.filter((task) => task.group === group),
    }))
    .filter((group) => group.tasks.length)
})
const inOrder = computed(() => groups.value.flatMap((group) => group.tasks))

// On a wide page the first task is open at once; on a phone the list comes first.
const chosen = computed<number | null>(() => {
  const asked = Number(text('task')) || null
  if (asked) return asked
  return wide.value ? (inOrder.value[0]?.id ?? null) : null
})
const index = computed(() => inOrder.value.findIndex((task) => task.id === chosen.value))
const choose = (id: number | undefined) => set({ task: id ? String(id) : undefined })
const stepBy = (step: number) => {
  const to = inOrder.value[Math.min(Math.max(index.value + step, 0), inOrder.value.length - 1)]
  if (to) void choose(to.id)
}

/** After a task was worked the next one is there at once, before the list has come anew. */
function worked(task: Task) {
  const place = inOrder.value.findIndex((one) => one.id === task.id)
  const following = inOrder.value[place + 1] ?? inOrder.value[place - 1]
  void choose(wide.value && following?.id !== task.id ? following?.id : undefined)
  void reload()
}

async function tick(task: Task) {
  if (task.answers.length) {
    void choose(task.id)
    say('This task asks how it went: choose an answer beside it.')
    return
  }
  const after = await finish(task.id, null, null)
  if (after) worked(after)
}

const rules = computed(() => {
  const named = new Map(tasks.value.filter((task) => task.rule).map((task) => [String(task.rule!.id), task.rule!.name]))
  return [{ value: '', words: 'All rules' }, ...[...named].map(([value, words]) => ({ value, words }))]
})
const whoOptions = computed(() => [
  { value: 'me', words: 'Mine' },
  ...(data.value?.queues ?? []).map((queue) => ({
    value: `q:${queue.key}`,
    words: `Queue ${queue.name} (${queue.open})`,
  })),
  ...people.value.map((person) => ({ value: person.key, words: person.name })),
  { value: 'all', words: 'Everybody' },
])
const waiting = computed(() =>
  (data.value?.queues ?? []).filter((queue) => queue.mine).reduce((sum, queue) => sum + queue.open, 0),
)
const firstQueue = computed(
  () => data.value?.queues.find((queue) => queue.mine && queue.open) ?? data.value?.queues.find((queue) => queue.mine),
)

const making = ref(false)
useKeys({
  j: () => stepBy(1),
  k: () => stepBy(-1),
  ArrowDown: () => stepBy(1),
  ArrowUp: () => stepBy(-1),
  c: () => (making.value = true),
  o: () => {
    const record = inOrder.value[index.value]?.record
    if (record) void router.push(`/record/${record.id}`)
  },
})

// Keeps the chosen row in sight when keys move through a long list.
watch(chosen, (id) =>
  requestAnimationFrame(() => document.getElementById(`task-${id}`)?.scrollIntoView({ block: 'nearest' })),
)
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-pine bg-paper px-3 py-3 sm:px-5">
    <h1 class="mr-3 text-xl font-bold">Worklist</h1>
    <SelectBox v-model="who" :options="whoOptions" label="Whose" strong />
    <SelectBox
      v-model="state"
      :options="[
        { value: 'open', words: 'Open' },
        { value: 'done', words: 'Done' },
      ]"
      label="State"
    />
    <SelectBox v-model="rule" :options="rules" label="Rule" />
    <button type="button" class="btn btn-quiet ml-auto" aria-keyshortcuts="c" @click="making = true">
      New task <KeyCap class="hidden sm:inline">C</KeyCap>
    </button>
    <button v-if="firstQueue" type="button" class="btn" @click="who = `q:${firstQueue.key}`">
      Queues <b>{{ waiting }}</b>
    </button>
  </div>

  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else class="grid flex-1 min-[900px]:grid-cols-[1fr_424px]">
    <div class="min-w-0" :class="chosen && !wide ? 'hidden' : ''">
      <div v-if="data && !inOrder.length" class="p-8">
        <h2 class="mb-1 text-lg font-semibold">
          {{
            state === 'done'
              ? 'Nothing done in the last 14 days'
              : who === 'me'
                ? 'Nothing waits for you'
                : 'Nothing here'
          }}
        </h2>
        <p class="text-muted">
          Tasks come here when a rule makes one, when a colleague passes one on, or when you make one.
          <button type="button" class="link" @click="making = true">Make a task</button>
          <template v-if="waiting && firstQueue">
            or
            <button type="button" class="link" @click="who = `q:${firstQueue.key}`">
              look at the {{ counted(waiting, 'task') }} in your queues
            </button></template
          >.
        </p>
      </div>
      <table v-else class="ledger table-fixed">
        <thead>
          <tr>
            <th class="w-[44px]"><span class="sr-only">Done</span></th>
            <th>Task</th>
            <th class="hidden w-[24%] sm:table-cell">About</th>
            <th class="hidden w-[72px] lg:table-cell">Answer by</th>
            <th class="hidden w-[19%] lg:table-cell">{{ who === 'me' ? 'From' : 'Who' }}</th>
            <th class="hidden w-[170px] !text-right sm:table-cell">{{ state === 'done' ? 'When' : 'Due' }}</th>
          </tr>
        </thead>
        <tbody v-for="group in groups" :key="group.name" class="border-t border-pine">
          <tr class="ledger-group">
            <td :colspan="columns" class="!border-b !border-line !bg-paper !pt-[9px]">
              <b :class="group.tone">{{ group.name }}</b>
              <span class="text-muted">{{ [group.note, group.tasks.length].filter(Boolean).join(' · ') }}</span>
            </td>
          </tr>
          <tr
            v-for="task in group.tasks"
            :id="`task-${task.id}`"
            :key="task.id"
            :data-chosen="task.id === chosen"
            class="cursor-pointer"
            @click="choose(task.id)"
          >
            <td class="relative !pr-1 !pl-4">
              <PriorityEdge :priority="task.priority" />
              <button
                v-if="state === 'open' && task.may_work"
                type="button"
                class="block size-4 border-[1.5px] border-pine bg-paper hover:bg-band-2"
                :aria-label="`Done: ${task.title}`"
                @click.stop="tick(task)"
              />
              <span
                v-else-if="state === 'done'"
                :class="task.state === 'done' ? 'text-leaf' : 'text-muted'"
                :title="task.state"
                >{{ task.state === 'done' ? '✓' : '–' }}</span
              >
            </td>
            <td class="break-words">
              <button
                type="button"
                class="text-left hover:underline"
                :class="task.id === chosen ? 'font-semibold' : ''"
              >
                {{ task.title }}
              </button>
              <span v-if="task.priority === 'urgent' || task.priority === 'high'" class="ml-1 text-muted">{{
                task.priority
              }}</span>
              <span class="flex flex-wrap justify-between gap-x-3 text-muted sm:hidden">
                <span>{{ task.record?.title }}</span>
                <DueWords v-if="state === 'open'" :task="task" />
              </span>
            </td>
            <td class="hidden break-words sm:table-cell">
              <template v-if="task.record"
                ><RouterLink :to="`/record/${task.record.id}`" @click.stop>{{ task.record.title }}</RouterLink>
                <span class="text-muted">{{ task.record.hint }}</span></template
              >
            </td>
            <td class="hidden lg:table-cell">{{ wayWords(task.way) }}</td>
            <td class="hidden break-words text-muted lg:table-cell">
              {{
                who === 'me'
                  ? (task.rule?.name ?? `by hand, ${nameOf(task.made_by)}`)
                  : task.assignee
                    ? nameOf(task.assignee)
                    : queueName(task.queue)
              }}
            </td>
            <td class="hidden text-right sm:table-cell">
              <span v-if="state === 'done'" class="text-muted">{{ task.done_at && moment(task.done_at) }}</span>
              <DueWords v-else :task="task" />
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="next" class="p-4"><button type="button" class="btn" @click="loadMore">Show more</button></div>
    </div>
    <aside v-if="chosen" class="side border-pine bg-paper min-[900px]:border-l" aria-label="The task">
      <button v-if="!wide" type="button" class="btn btn-quiet m-3 mb-0" @click="choose(undefined)">
        Back to the list
      </button>
      <TaskSlip
        :id="chosen"
        :place="index >= 0 ? `${index + 1} of ${inOrder.length}${next ? ' and more' : ''}` : ''"
        @worked="worked"
        @changed="reload"
      />
    </aside>
    <aside v-else class="side hidden border-l border-pine bg-paper min-[900px]:block" />
  </div>
  <NewTaskDialog :open="making" @close="making = false" @made="(task) => (reload(), choose(task.id))" />
</template>

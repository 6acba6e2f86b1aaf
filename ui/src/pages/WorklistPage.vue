<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useKeys } from '@/lib/useKeys'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted, wayWords } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import KeyCap from '@/parts/KeyCap.vue'
import PriorityEdge from '@/parts/PriorityEdge.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TaskMark from '@/parts/TaskMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import { useSession } from '@/state/session'
import DueWords from '@/worklist/DueWords.vue'
import { grouped } from '@/worklist/groups'
import TaskSlip from '@/worklist/TaskSlip.vue'
import { useFilters, type Grouping } from '@/worklist/useFilters'
import { useTaskSteps } from '@/worklist/useTaskSteps'
import { whenOpened } from '@/lib/whenOpened'
const ComingTasks = defineAsyncComponent(() => import('@/worklist/ComingTasks.vue'))
const FilterBar = defineAsyncComponent(() => import('@/worklist/FilterBar.vue'))
const FirstSteps = defineAsyncComponent(() => import('@/worklist/FirstSteps.vue'))
const SeveralBar = defineAsyncComponent(() => import('@/worklist/SeveralBar.vue'))
const QueuesDialog = whenOpened(() => import('@/worklist/QueuesDialog.vue'))

const NewTaskDialog = whenOpened(() => import('@/worklist/NewTaskDialog.vue'))

type Task = Schemas['Task']
const router = useRouter()
const { people, nameOf, queueName } = useSetup()
const { day, today, moment } = useDates()
const { finish, takeNext } = useTaskSteps()
const { say } = useNotices()
const { isLead, mayWriteRules } = useSession()
const wide = useMediaQuery('(min-width: 900px)')
const roomy = useMediaQuery('(min-width: 1024px)')
const narrow = useMediaQuery('(max-width: 639px)')
const columns = computed(() => (narrow.value ? 2 : roomy.value ? 6 : 4))

const { who, state, group, query, text, set, more: filtered } = useFilters()

const more = ref<Task[]>([])
const next = ref<string | null>(null)
const { data, error, reload } = useLoaded(async () => {
  const page = await answerOf(api.GET('/api/worklist', { params: { query: query.value } }))
  more.value = []
  next.value = page.next
  return page
}, [() => JSON.stringify(query.value)])
useLive(() => reload())

async function loadMore() {
  const asked = { ...query.value, after: next.value! }
  const page = await answerOf(api.GET('/api/worklist', { params: { query: asked } }))
  more.value.push(...page.tasks)
  next.value = page.next
}

const tasks = computed(() => [...(data.value?.tasks ?? []), ...more.value])
const over = computed(() => ['done', 'dropped'].includes(state.value))
const groups = computed(() => {
  const by = group.value as Grouping
  if (over.value && by === 'due')
    return tasks.value.length
      ? [{ name: state.value === 'done' ? 'Done' : 'Dropped', note: 'newest first', tone: '', tasks: tasks.value }]
      : []
  return grouped(tasks.value, by, { today: day(today()), person: nameOf, queue: queueName })
})
// One by one goes only what is to be done by now.
const through = computed(() => text('through') === '1')
const toDo = computed(() => groups.value.flatMap((group) => group.tasks).filter((task) => task.group !== 'starts'))
const inOrder = computed(() => (through.value ? toDo.value : groups.value.flatMap((group) => group.tasks)))

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

const STATES = [
  { value: 'open', words: 'Open' },
  { value: 'late', words: 'Late' },
  { value: 'started', words: 'Started' },
  { value: 'waiting', words: 'Waiting' },
  { value: 'done', words: 'Done' },
  { value: 'dropped', words: 'Dropped' },
]
const GROUPINGS = [
  { value: 'due', words: 'Group by due' },
  { value: 'rule', words: 'Group by rule' },
  { value: 'record', words: 'Group by record' },
  { value: 'priority', words: 'Group by priority' },
  { value: 'queue', words: 'Group by queue' },
  { value: 'person', words: 'Group by person' },
]
const searching = ref(filtered.value > 0)

// Several at once: the boxes at the left choose instead of ticking off.
const choosing = ref(false)
const picked = ref(new Set<number>())
const pickedTasks = computed(() => inOrder.value.filter((task) => picked.value.has(task.id)))
function pick(id: number) {
  const next = new Set(picked.value)
  if (!next.delete(id)) next.add(id)
  picked.value = next
}
function leaveChoosing() {
  choosing.value = false
  picked.value = new Set()
}
function pickAll() {
  picked.value = picked.value.size === inOrder.value.length ? new Set() : new Set(inOrder.value.map((task) => task.id))
}

// Work-through: one by one, nothing else on the page. A queue gives its next task each time.
const queue = computed(() => (who.value.startsWith('q:') ? who.value.slice(2) : null))
const taken = ref<number | null>(null)
const emptied = ref(false)
async function takeFromQueue() {
  const task = await takeNext(queue.value)
  taken.value = task?.id ?? null
  emptied.value = task === null
}
async function begin(where?: string) {
  emptied.value = false
  await set({ through: '1', task: undefined, ...(where ? { who: where } : {}) })
  if (queue.value) await takeFromQueue()
}
const leave = () => {
  taken.value = null
  emptied.value = false
  void set({ through: undefined, task: undefined })
  void reload()
}
const shown = computed(() => (through.value && queue.value ? taken.value : chosen.value))
async function afterStep(task: Task) {
  if (through.value && queue.value) {
    await takeFromQueue()
    void reload()
  } else worked(task)
}
const queuesOpen = ref(false)
const whoOptions = computed(() => [
  { value: 'me', words: 'Mine' },
  ...(data.value?.queues ?? []).map((queue) => ({
    value: `q:${queue.key}`,
    words: `Queue ${queue.name} (${queue.open})`,
  })),
  ...people.value.map((person) => ({ value: person.key, words: person.name })),
  // Whoever has left stays in sight until nothing of theirs is open.
  ...(data.value?.left ?? []).map((one) => ({
    value: one.key,
    words: `${nameOf(one.key)}, who has left (${one.open})`,
  })),
  { value: 'all', words: 'Everybody' },
])
const waiting = computed(() =>
  (data.value?.queues ?? []).filter((queue) => queue.mine).reduce((sum, queue) => sum + queue.open, 0),
)
const firstQueue = computed(
  () => data.value?.queues.find((queue) => queue.mine && queue.open) ?? data.value?.queues.find((queue) => queue.mine),
)

/** What stands behind a title: priority, state, parts, what goes on in the record it opened. */
function said(task: Task) {
  const opened = task.opened?.progress
  return [
    ['urgent', 'high'].includes(task.priority) && task.priority,
    ['started', 'waiting'].includes(task.state) && task.state,
    task.parts.all && `${task.parts.done} of ${task.parts.all} parts done`,
    opened && `${opened.done} of ${opened.all} done in ${task.opened!.title}`,
  ]
    .filter(Boolean)
    .join(' · ')
}

const making = ref(false)
const byKey = ref(false)
useKeys({
  j: () => stepBy(1),
  k: () => stepBy(-1),
  ArrowDown: () => stepBy(1),
  ArrowUp: () => stepBy(-1),
  c: () => (making.value = true),
  f: () => {
    searching.value = true
    // Where the bar is not there yet, it takes the focus when it comes.
    byKey.value = true
    document.getElementById('task-words')?.focus()
  },
  x: () => {
    choosing.value = true
    if (chosen.value) pick(chosen.value)
  },
  q: () => (queuesOpen.value = true),
  t: () => (through.value ? undefined : begin()),
  Escape: () => (through.value ? leave() : choosing.value ? leaveChoosing() : undefined),
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
  <template v-if="through">
    <PageHead>
      <template #title
        ><h1 class="text-xl font-bold">{{ queue ? `Queue ${queueName(queue)}` : 'Work through' }}</h1></template
      >
      <template #default>
        <span class="text-muted">one task after the other</span>
        <span v-if="!queue && inOrder.length > 1" class="hidden text-muted sm:inline"
          ><KeyCap>J</KeyCap> next <KeyCap>K</KeyCap> before</span
        >
      </template>
      <template #main
        ><button type="button" class="btn btn-quiet ml-auto" aria-keyshortcuts="Escape" @click="leave">
          Back to the list <KeyCap>Esc</KeyCap>
        </button></template
      >
    </PageHead>
    <TaskSlip
      v-if="shown"
      :id="shown"
      wide
      :place="!queue && index >= 0 ? `${index + 1} of ${inOrder.length}` : ''"
      @worked="afterStep"
      @changed="reload"
    />
    <div v-else-if="queue ? emptied : data" class="p-8" role="status">
      <h2 class="mb-1 text-lg font-semibold">{{ queue ? 'The queue is empty' : 'All done' }}</h2>
      <p class="text-muted">
        {{ queue ? 'Nothing waits in it any more.' : 'Nothing waits for you.' }}
        <button v-if="!queue && waiting && firstQueue" type="button" class="link" @click="begin(`q:${firstQueue.key}`)">
          Take the next from {{ firstQueue.name }}
        </button>
      </p>
    </div>
  </template>
  <template v-else>
    <PageHead>
      <template #title
        ><h1 class="sr-only sm:not-sr-only sm:mr-3 sm:text-xl sm:font-bold">Worklist</h1>
        <SelectBox v-model="who" :options="whoOptions" label="Whose" strong
      /></template>
      <template #default>
        <SelectBox v-model="state" :options="STATES" label="State" />
        <SelectBox v-model="group" :options="GROUPINGS" label="Groups" />
        <button
          type="button"
          class="btn btn-quiet"
          aria-keyshortcuts="f"
          :aria-expanded="searching"
          @click="searching = !searching"
        >
          Search<b v-if="filtered">{{ filtered }}</b> <KeyCap class="hidden sm:inline">F</KeyCap>
        </button>
        <button
          v-if="inOrder.length && !over && !choosing"
          type="button"
          class="btn btn-quiet"
          @click="choosing = true"
        >
          Select several
        </button>
        <button type="button" class="btn btn-quiet ml-auto" aria-keyshortcuts="c" @click="making = true">
          New task <KeyCap class="hidden sm:inline">C</KeyCap>
        </button>
        <RouterLink v-if="isLead" to="/team" class="btn btn-quiet">Team</RouterLink>
        <button type="button" class="btn" aria-keyshortcuts="q" @click="queuesOpen = true">
          Queues <b>{{ waiting }}</b>
        </button>
      </template>
      <template #main
        ><button v-if="toDo.length && !over" type="button" class="btn btn-go" aria-keyshortcuts="t" @click="begin()">
          Work through {{ next ? 'all' : toDo.length }}
        </button></template
      >
    </PageHead>

    <FilterBar v-if="searching" :tasks="tasks" :focus="byKey" />
    <SeveralBar v-if="choosing" :tasks="pickedTasks" @done="(leaveChoosing(), reload())" @leave="leaveChoosing" />
    <FirstSteps v-if="mayWriteRules" @task="making = true" />
    <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
    <div v-else class="grid flex-1 min-[900px]:grid-cols-[1fr_424px]">
      <div class="min-w-0" :class="chosen && !wide ? 'hidden' : ''">
        <div v-if="data && !inOrder.length" class="p-8">
          <h2 class="mb-1 text-lg font-semibold">
            {{
              over
                ? 'Nothing here yet'
                : filtered || state !== 'open'
                  ? 'No task matches'
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
              <button type="button" class="link" @click="begin(`q:${firstQueue.key}`)">
                take the next of the {{ counted(waiting, 'task') }} in your queues
              </button></template
            >
          </p>
        </div>
        <table v-else class="ledger table-fixed">
          <thead>
            <tr>
              <th class="w-[44px]">
                <input
                  v-if="choosing"
                  type="checkbox"
                  class="ml-[10px] size-4"
                  aria-label="Choose all shown"
                  :checked="picked.size > 0 && picked.size === inOrder.length"
                  @change="pickAll"
                /><span v-else class="sr-only">Done</span>
              </th>
              <th>Task</th>
              <th class="hidden w-[24%] sm:table-cell">About</th>
              <th class="hidden w-[72px] lg:table-cell">Answer by</th>
              <th class="hidden w-[19%] lg:table-cell">{{ who === 'me' ? 'From' : 'Who' }}</th>
              <th class="hidden w-[170px] !text-right sm:table-cell">{{ over ? 'When' : 'Due' }}</th>
            </tr>
          </thead>
          <tbody v-for="some in groups" :key="some.name" class="border-t border-pine">
            <tr class="ledger-group">
              <td :colspan="columns" class="!border-b !border-line !bg-paper !pt-[9px]">
                <b :class="some.tone">{{ some.name }}</b>
                <span class="text-muted">{{ [some.note, some.tasks.length].filter(Boolean).join(' · ') }}</span>
              </td>
            </tr>
            <tr
              v-for="task in some.tasks"
              :id="`task-${task.id}`"
              :key="task.id"
              :data-chosen="task.id === chosen"
              class="cursor-pointer"
              @click="choose(task.id)"
            >
              <td class="relative !pr-1 !pl-4">
                <PriorityEdge :priority="task.priority" />
                <input
                  v-if="choosing"
                  type="checkbox"
                  class="size-4"
                  :aria-label="`Choose ${task.title}`"
                  :checked="picked.has(task.id)"
                  @click.stop
                  @change="pick(task.id)"
                />
                <button
                  v-else-if="!over && task.may_work"
                  type="button"
                  class="block size-4 border-[1.5px] border-pine bg-paper hover:bg-band-2"
                  :aria-label="`Done: ${task.title}`"
                  @click.stop="tick(task)"
                />
                <span
                  v-else-if="over"
                  class="text-muted data-[state=done]:text-leaf"
                  :data-state="task.state"
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
                  <TaskMark v-if="task.mark" :mark="task.mark" :title="task.kit?.name ?? task.rule?.name" />
                  <span v-if="said(task)" class="font-normal text-muted">{{ said(task) }}</span>
                </button>
                <span class="flex flex-wrap justify-between gap-x-3 text-muted sm:hidden">
                  <span>{{ task.record?.title }}</span>
                  <DueWords v-if="!over" :task="task" />
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
                    ? (task.kit?.name ?? task.rule?.name ?? `by hand, ${nameOf(task.made_by)}`)
                    : task.assignee
                      ? nameOf(task.assignee)
                      : queueName(task.queue)
                }}
              </td>
              <td class="hidden text-right sm:table-cell">
                <span v-if="over" class="text-muted">{{ task.done_at && moment(task.done_at) }}</span>
                <DueWords v-else :task="task" />
              </td>
            </tr>
          </tbody>
        </table>
        <div v-if="next" class="p-4"><button type="button" class="btn" @click="loadMore">Show more</button></div>
        <ComingTasks
          v-if="data && state === 'open' && !filtered && !who.startsWith('q:') && who !== 'all'"
          :who="who"
        />
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
      <aside v-else class="hidden border-l border-pine bg-paper min-[900px]:block" />
    </div>
  </template>
  <QueuesDialog
    :open="queuesOpen"
    :lead="isLead"
    @close="queuesOpen = false"
    @look="(key) => ((queuesOpen = false), (who = `q:${key}`))"
    @work="(key) => ((queuesOpen = false), begin(`q:${key}`))"
  />
  <NewTaskDialog :open="making" @close="making = false" @made="(task) => (reload(), choose(task.id))" />
</template>

<script setup lang="ts">
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useKeys } from '@/lib/useKeys'
import { useLoaded } from '@/lib/useLoaded'
import { sentenceCase, wayWords } from '@/lib/words'
import KeyCap from '@/parts/KeyCap.vue'
import TaskMark from '@/parts/TaskMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import { isWeb } from '@/lib/isWeb'
import { fieldsOf, type Said } from '@/task/fields'
import { useTaskSteps } from './useTaskSteps'
const PresetPicker = defineAsyncComponent(() => import('./PresetPicker.vue'))
const FillPaper = defineAsyncComponent(() => import('./FillPaper.vue'))
const TaskTalk = defineAsyncComponent(() => import('./TaskTalk.vue'))
import WhyHere from './WhyHere.vue'
const WhyKit = defineAsyncComponent(() => import('./WhyKit.vue'))
import { whenOpened } from '@/lib/whenOpened'
const TaskHistory = defineAsyncComponent(() => import('./TaskHistory.vue'))
const NewTaskDialog = whenOpened(() => import('./NewTaskDialog.vue'))

const PutOffDialog = whenOpened(() => import('./PutOffDialog.vue'))
const PassOnDialog = whenOpened(() => import('./PassOnDialog.vue'))

const EditTaskDialog = whenOpened(() => import('./EditTaskDialog.vue'))

/** One task with all that helps to work it: what to say, the answers, the facts, why it is here. */
const props = defineProps<{ id: number; place?: string; wide?: boolean }>()
const emit = defineEmits<{ worked: [task: Schemas['Task']]; changed: [] }>()

const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/tasks/{id}', { params: { path: { id: props.id } } })),
  [() => props.id],
)
useLive((news) => (news === null || news.tasks.includes(props.id)) && reload())
const { moment, day } = useDates()
const { nameOf, queueName, setup } = useSetup()
const { finish, drop, take, giveBack, setState, takeBack, reopen, last } = useTaskSteps()

const note = ref('')
const noting = ref(false)
const noteBox = useTemplateRef<HTMLTextAreaElement>('noteBox')
const slip = useTemplateRef<HTMLElement>('slip')
const puttingOff = ref(false)
const passingOn = ref(false)
const parting = ref(false)
const editing = ref(false)
const { isLead } = useSession()
const presets = useTemplateRef('presets')
const busy = ref(false)

watch(
  () => props.id,
  () => {
    note.value = ''
    noting.value = false
  },
)

const task = computed(() => data.value?.task)
/** What the task says that has no place of its own here. */
const PLACED = ['title', 'text', 'way', 'priority', 'due', 'start', 'remind', 'answers', 'web_link', 'place', 'fills']
const further = computed(() => {
  const said: Said = { ...task.value }
  return fieldsOf(setup.value, 'edit')
    .filter((field) => !PLACED.includes(field.key) && said[field.names[0]!])
    .map((field) => ({ key: field.key, label: field.asked, value: String(said[field.names[0]!]) }))
})
const open = computed(() => task.value !== undefined && !['done', 'dropped'].includes(task.value.state))
const workable = computed(() => open.value && task.value!.may_work && !busy.value)
const unclaimed = computed(() => open.value && !task.value!.assignee)

async function work(step: () => Promise<Schemas['Task'] | null>) {
  if (!workable.value) return
  busy.value = true
  const after = await step()
  busy.value = false
  if (after) emit('worked', after)
}
const answer = (text: string | null) => work(() => finish(props.id, text, note.value || null))
const done = () => (task.value?.answers.length ? undefined : answer(null))
const letGo = () => work(() => drop(props.id, note.value || null))
async function claim() {
  if (workable.value && (await take(props.id))) {
    await reload()
    emit('changed')
  }
}
async function turn(state: 'open' | 'started' | 'waiting') {
  if (workable.value && (await setState(props.id, state))) {
    await reload()
    emit('changed')
  }
}
async function openAgain() {
  if (!busy.value && (await reopen(props.id))) moved()
}
async function undoLast() {
  if (last.value === null) return
  const after = await takeBack(last.value)
  if (after) {
    await reload()
    emit('changed')
  }
}
const putIn = (text: string) => {
  note.value = note.value ? `${note.value} ${text}` : text
  noting.value = true
}
async function readyText() {
  if (!workable.value) return
  noting.value = true
  await nextTick()
  void presets.value?.show()
}
async function write() {
  noting.value = true
  await nextTick()
  noteBox.value?.focus()
}

/** To the slip, not to nowhere: a dialog that gives the focus back late would give it to the box again. */
const leaveNote = () => slip.value?.focus({ preventScroll: true })

/** Put off, a task stays in the list; passed on, it leaves it, as one that is done does. */
function moved() {
  void reload()
  emit('changed')
}
function passedOn(after: Schemas['Task']) {
  emit('worked', after)
}

useKeys({
  d: done,
  p: () => workable.value && (puttingOff.value = true),
  h: () => workable.value && (passingOn.value = true),
  n: write,
  s: () => turn(task.value?.state === 'started' ? 'open' : 'started'),
  w: () => turn(task.value?.state === 'waiting' ? 'open' : 'waiting'),
  e: readyText,
  m: () => workable.value && (editing.value = true),
  u: undoLast,
  g: () => workable.value && task.value!.queue && task.value!.assignee && work(() => giveBack(props.id)),
  ...Object.fromEntries(
    [1, 2, 3, 4, 5, 6, 7, 8, 9].map((digit) => [
      String(digit),
      () => task.value?.answers[digit - 1] && answer(task.value.answers[digit - 1]!),
    ]),
  ),
})
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div
    v-else-if="data && task"
    ref="slip"
    tabindex="-1"
    class="outline-none [&>section]:border-b [&>section]:border-line [&>section]:px-[18px] [&>section]:py-3"
    :class="wide ? 'mx-auto w-full max-w-3xl border-x border-line bg-paper' : ''"
  >
    <section>
      <div class="flex justify-between text-muted">
        <span
          >{{ sentenceCase(task.priority) }} · {{ wayWords(task.way) }} · {{ task.state }} since
          {{ moment(task.done_at ?? task.made_at) }}</span
        >
        <span v-if="place">{{ place }}</span>
      </div>
      <h2 class="mt-1 text-[18px] leading-snug font-bold">
        {{ task.title }} <TaskMark v-if="task.mark" :mark="task.mark" :title="task.kit?.name ?? task.rule?.name" />
      </h2>
      <p v-if="task.text" class="mt-2 break-words whitespace-pre-line">{{ task.text }}</p>
      <p v-if="task.web_link" class="mt-1 break-all">
        <a v-if="isWeb(task.web_link)" :href="task.web_link" target="_blank" rel="noreferrer">{{ task.web_link }}</a>
        <template v-else>{{ task.web_link }}</template>
      </p>
      <p class="mt-2 text-muted">
        {{ task.assignee ? nameOf(task.assignee) : `In the queue ${queueName(task.queue)}`
        }}<template v-if="task.due_on"> · due {{ day(task.due_on) }} {{ task.due_at }}</template
        ><template v-if="task.start_on"> · not before {{ day(task.start_on) }}</template
        ><template v-if="task.remind_at"> · reminder {{ moment(task.remind_at) }}</template>
      </p>
      <p v-for="one in further" :key="one.key" class="mt-1 break-words">
        <span class="text-muted">{{ one.label }}:</span> {{ one.value }}
      </p>
      <p v-if="task.opened" class="mt-1 text-muted">
        Opened <RouterLink :to="`/record/${task.opened.id}`">{{ task.opened.title }}</RouterLink><template
          v-if="task.opened.progress"
          >, {{ task.opened.progress.done }} of {{ task.opened.progress.all }} done there</template
        >
      </p>
      <p v-if="task.log_done && open" class="mt-1 text-muted">When it is done it is logged on the record.</p>
      <p v-if="data.parent" class="mt-1 text-muted">Part of “{{ data.parent.title }}”</p>

      <template v-if="open && task.may_work">
        <button v-if="unclaimed" type="button" class="btn mt-3" @click="claim">Take it</button>
        <div class="lab mt-3 mb-1">{{ task.answers.length ? 'How did it go?' : 'When it is done' }}</div>
        <div class="flex flex-wrap gap-[6px]">
          <template v-if="task.answers.length">
            <button
              v-for="(text, index) in task.answers"
              :key="text"
              type="button"
              class="btn"
              :class="index === 0 ? 'btn-go' : ''"
              :disabled="busy"
              :aria-keyshortcuts="String(index + 1)"
              @click="answer(text)"
            >
              {{ text }} <KeyCap on="dark">{{ index + 1 }}</KeyCap>
            </button>
          </template>
          <button v-else type="button" class="btn btn-go" :disabled="busy" aria-keyshortcuts="d" @click="answer(null)">
            Done <KeyCap on="dark">D</KeyCap>
          </button>
        </div>
        <textarea
          v-if="noting"
          ref="noteBox"
          v-model="note"
          class="input mt-2"
          rows="2"
          aria-label="Note, kept when the task is done or dropped"
          placeholder="A note, kept with the answer"
          @keydown.esc="leaveNote"
        />
        <div v-show="noting"><PresetPicker ref="presets" :box="noteBox ?? null" @insert="putIn" /></div>
      </template>
      <p v-else-if="open" class="mt-3 text-muted">
        This task is {{ nameOf(task.assignee) }}’s. They, their team or a lead can work it.
      </p>
      <p v-else class="mt-3">
        <span
          class="flag bg-band-2 data-[state=done]:bg-leaf-bg data-[state=done]:text-leaf"
          :data-state="task.state"
          >{{ task.state === 'done' ? 'Done' : 'Dropped' }}</span
        >
        by {{ nameOf(task.done_by) }}<template v-if="task.answer">, answer: {{ task.answer }}</template
        ><template v-if="task.took">
          <span class="text-muted">took {{ task.took }}</span></template
        >
        <span v-if="task.note" class="mt-1 block">{{ task.note }}</span>
        <button v-if="isLead" type="button" class="btn btn-quiet mt-2" @click="openAgain">Open it again</button>
      </p>
    </section>

    <section v-if="open && task.may_work" class="flex flex-wrap gap-[6px]">
      <button type="button" class="btn btn-quiet" aria-keyshortcuts="p" :disabled="busy" @click="puttingOff = true">
        Put off <KeyCap>P</KeyCap>
      </button>
      <button type="button" class="btn btn-quiet" aria-keyshortcuts="h" :disabled="busy" @click="passingOn = true">
        Pass on <KeyCap>H</KeyCap>
      </button>
      <button type="button" class="btn btn-quiet" aria-keyshortcuts="n" :disabled="busy" @click="write">
        Note <KeyCap>N</KeyCap>
      </button>
      <button
        type="button"
        class="btn btn-quiet"
        aria-keyshortcuts="s"
        :disabled="busy"
        @click="turn(task.state === 'started' ? 'open' : 'started')"
      >
        {{ task.state === 'started' ? 'Not started' : 'Start' }} <KeyCap>S</KeyCap>
      </button>
      <button
        type="button"
        class="btn btn-quiet"
        aria-keyshortcuts="w"
        :disabled="busy"
        @click="turn(task.state === 'waiting' ? 'open' : 'waiting')"
      >
        {{ task.state === 'waiting' ? 'Waits no more' : 'Waiting' }} <KeyCap>W</KeyCap>
      </button>
      <button
        v-if="task.queue && task.assignee"
        type="button"
        class="btn btn-quiet"
        aria-keyshortcuts="g"
        :disabled="busy"
        @click="work(() => giveBack(props.id))"
      >
        Give back <KeyCap>G</KeyCap>
      </button>
      <button type="button" class="btn btn-quiet" aria-keyshortcuts="m" :disabled="busy" @click="editing = true">
        Change <KeyCap>M</KeyCap>
      </button>
      <button type="button" class="btn btn-quiet ml-auto" :disabled="busy" @click="letGo">Drop</button>
    </section>

    <section v-if="task.record">
      <div class="lab mb-[6px]">
        <RouterLink :to="`/record/${task.record.id}`">{{ task.record.title }}</RouterLink>,
        {{ task.record.hint.split(',')[0] }}
      </div>
      <dl class="grid grid-cols-[112px_1fr] gap-x-[10px] gap-y-1">
        <template v-for="fact in data.facts" :key="fact.label">
          <dt class="text-muted">{{ fact.label }}</dt>
          <dd class="min-w-0 break-words">
            <RouterLink v-if="fact.link" :to="`/record/${fact.link.id}`">{{ fact.shown }}</RouterLink><template
              v-else
              >{{ fact.shown }}</template
            >
            <span v-if="fact.note" class="text-muted">{{ fact.note }}</span>
          </dd>
        </template>
      </dl>
    </section>

    <section v-if="data.parts.length || (open && task.may_work)">
      <div class="flex items-baseline justify-between">
        <span class="lab mb-1"
          >Parts<template v-if="data.parts.length">
            · {{ task.parts.done }} of {{ task.parts.all }} done</template
          ></span
        >
        <button v-if="open && task.may_work" type="button" class="link text-sm" @click="parting = true">
          Add a part
        </button>
      </div>
      <ul>
        <li v-for="part in data.parts" :key="part.id" class="flex items-baseline gap-2 py-[2px]">
          <button
            v-if="part.may_work && !['done', 'dropped'].includes(part.state) && !part.answers.length"
            type="button"
            class="size-[14px] shrink-0 self-center border-[1.5px] border-pine bg-paper hover:bg-band-2"
            :aria-label="`Done: ${part.title}`"
            @click="finish(part.id, null, null).then(moved)"
          />
          <RouterLink :to="{ query: { ...$route.query, task: part.id } }">{{ part.title }}</RouterLink>
          <span class="text-muted">{{ part.state }}</span>
        </li>
      </ul>
    </section>

    <FillPaper :panel="data" :workable="workable" @changed="reload" @done="(after) => emit('worked', after)" />
    <section><TaskTalk :panel="data" @changed="reload" /></section>

    <section>
      <div class="lab mb-[6px]">Why this task is here</div>
      <WhyHere v-if="data.why" :why="data.why" />
      <WhyKit v-else-if="data.why_kit" :why="data.why_kit" />
      <div v-else>{{ nameOf(task.made_by) }} made it by hand, {{ moment(task.made_at) }}.</div>
      <p v-for="step in data.later" :key="step.at" class="mt-1" data-test="ladder-next">
        <span class="flag bg-amber-bg text-amber">{{ moment(step.at) }}</span> next, if still open: {{ step.words }}
        <span class="text-muted"
          >by <RouterLink :to="`/rules/${step.rule.id}`">{{ step.rule.name }}</RouterLink></span
        >
      </p>
    </section>

    <TaskHistory v-if="wide && data.history.length" :entries="data.history" />

    <NewTaskDialog
      :open="parting"
      :parent="{ id: task.id, title: task.title }"
      :record="task.record"
      @close="parting = false"
      @made="moved"
    />
    <EditTaskDialog :open="editing" :task="task" @close="editing = false" @changed="moved" />
    <PutOffDialog :open="puttingOff" :task="task" @close="puttingOff = false" @moved="moved" />
    <PassOnDialog :open="passingOn" :task="task" @close="passingOn = false" @moved="passedOn" />
  </div>
</template>

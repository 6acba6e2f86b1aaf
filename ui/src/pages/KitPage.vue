<script setup lang="ts">
import { useManualRefHistory } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { useDebounceFn } from '@vueuse/core'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import KitChecks from '@/kit/KitChecks.vue'
import KitDrawing from '@/kit/KitDrawing.vue'
import KitHistory from '@/kit/KitHistory.vue'
import KitTable from '@/kit/KitTable.vue'
import KitTaskEditor from '@/kit/KitTaskEditor.vue'
import KitTryPanel from '@/kit/KitTryPanel.vue'
import { blankKit, freeKey, tasksOf, without, withPart, withTask, type Kit, type KitTask } from '@/kit/model'
import PasteDialog from '@/kit/PasteDialog.vue'
import UseKitDialog from '@/kit/UseKitDialog.vue'
import { useDraft } from '@/lib/useDraft'
import { useKeys } from '@/lib/useKeys'
import { useNotices } from '@/lib/useNotices'
import { counted, dayOffWords } from '@/lib/words'
import PageHead from '@/parts/PageHead.vue'
import SideTabs from '@/parts/SideTabs.vue'
import DialogBox from '@/parts/DialogBox'
import KeyCap from '@/parts/KeyCap.vue'
import MarkDialog from '@/parts/MarkDialog.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TaskMark from '@/parts/TaskMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { sidesOf } from '@/rule/model'
import { useSession } from '@/state/session'
import { loadSetup, useSetup } from '@/state/setup'

const route = useRoute()
const router = useRouter()
const { setup, kindOf } = useSetup()
const { mayWriteRules, person } = useSession()
const { say, attempt } = useNotices()

const id = computed(() => (route.params.id === 'new' ? null : Number(route.params.id)))
const draft = useDraft<Kit, Schemas['Kit']>(
  id,
  {
    get: (number) => answerOf(api.GET('/api/kits/{id}', { params: { path: { id: number } } })),
    make: (kit) => answerOf(api.POST('/api/kits', { body: { kit } })),
    keep: (number, kit, stamp) =>
      answerOf(api.PUT('/api/kits/{id}/draft', { params: { path: { id: number } }, body: { kit, stamp } })),
    bodyOf: (fresh) => fresh.kit,
  },
  (made) => void router.replace(`/kits/${made}`),
)
const { body: kit, kept } = draft
const past = useManualRefHistory(kit, { capacity: 100 })
const trouble = ref<string | null>(null)
const fixed = computed(() => !mayWriteRules.value)
const chosen = ref<string | null>(null)
type Tab = 'runs' | 'task' | 'try' | 'checks' | 'history'
const tab = ref<Tab>('runs')

async function load() {
  trouble.value = null
  if (id.value !== null && draft.madeHere(id.value)) return
  try {
    const first = setup.value.kinds.find((one) => one.key === 'deal') ?? setup.value.kinds[0]!
    if (id.value === null) draft.begin(blankKit(first.key, setup.value.kit_format))
    else await draft.load()
    if (kit.value && !kit.value.phases.length) kit.value = { ...kit.value, phases: [{ name: '', tasks: [] }] }
    past.commit()
    past.clear()
    void look()
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
watch(
  () => kit.value?.name,
  (name) => (document.title = `${name || 'New kit'} · Yenvo`),
)
onBeforeRouteLeave(async () => {
  if (mayWriteRules.value && kit.value && draft.dirty.value) await draft.save()
})

function change(next: Kit) {
  if (fixed.value) return
  kit.value = next
  past.commit()
}
const kind = computed(() => kindOf(kit.value?.record ?? '') ?? setup.value.kinds[0]!)
const references = computed(() => sidesOf(setup.value, kind.value))
const dates = computed(() =>
  kind.value.fields.filter((field) => ['date', 'datetime'].includes(field.type) && !field.formula),
)
const froms = computed(() => [
  ...(kit.value?.count === 'back'
    ? []
    : [
        { value: 'event', words: 'the event' },
        { value: 'now', words: 'when it is used' },
      ]),
  ...dates.value.map((field) => ({ value: field.key, words: `${kind.value.label} · ${field.label}` })),
])
// What counted from the start counts from the target now, and the other way round.
function setCount(count: string) {
  const from = count === 'back' ? (dates.value.find((field) => !field.built_in)?.key ?? '') : 'event'
  const text = JSON.stringify(kit.value!.phases)
  const other =
    count === 'back'
      ? text.replaceAll('"from":"start"', '"from":"target"')
      : text.replaceAll('"from":"target"', '"from":"start"')
  change({ ...kit.value!, count, from, phases: JSON.parse(other) as Kit['phases'] })
}
const task = computed(() => tasksOf(kit.value!).find((one) => one.key === chosen.value) ?? null)
function choose(key: string | null, open = false) {
  chosen.value = key
  if (key && open) tab.value = 'task'
}
async function chooseRow(key: string | null, enter = false) {
  chosen.value = key
  if (key && tab.value !== 'try') tab.value = fixed.value ? 'runs' : 'task'
  if (!enter) return
  await nextTick()
  document.querySelector<HTMLElement>('#kit-side [role=tabpanel] input')?.focus()
}

const problems = ref<{ where: string; text: string; key: string | null; field: string }[]>([])
const notes = ref<{ kind: string; text: string; tasks: string[] }[]>([])
const ahead = ref<{
  records: number
  tasks: { number: number; title: string; count: number; example: string }[]
} | null>(null)

/** Where a problem is, in words, and the task and setting it belongs to. */
function placed(problem: Schemas['Problem']) {
  const [root, phase, , index, field] = problem.path
  const one =
    root === 'phases' && typeof phase === 'number' && typeof index === 'number'
      ? kit.value?.phases[phase]?.tasks[index]
      : undefined
  const number = one ? tasksOf(kit.value!).findIndex((each) => each.key === one.key) + 1 : 0
  return {
    key: one?.key ?? null,
    field: String(field ?? ''),
    text: problem.text,
    where: one ? `Task ${number}${field ? `, ${String(field)}` : ''}` : problem.where,
  }
}
const look = useDebounceFn(async () => {
  if (!kit.value) return
  const body = { kit: kit.value }
  try {
    const found = await answerOf(api.POST('/api/kits/check', { body: { ...body, key: kept.value?.key ?? null } }))
    problems.value = found.problems.map(placed)
    notes.value = found.notes
    ahead.value = found.problems.length ? null : await answerOf(api.POST('/api/kits/ahead', { body }))
  } catch (problem) {
    if (problem instanceof ApiError && problem.refusal.problems) problems.value = problem.refusal.problems.map(placed)
  }
}, 300)
watch(() => JSON.stringify(kit.value), look)
const broken = computed(() => new Set(problems.value.map((one) => one.key).filter((key) => key !== null)))
const noted = computed(() => new Set(notes.value.flatMap((note) => note.tasks)))
const wrong = computed(() =>
  Object.fromEntries(
    problems.value.filter((one) => one.key && one.key === chosen.value).map((one) => [one.field, `It ${one.text}.`]),
  ),
)

const nextVersion = computed(() => (kept.value?.version ?? 0) + 1)
const unchanged = computed(
  () =>
    !!kept.value?.published &&
    JSON.stringify(kept.value.published) === JSON.stringify(kept.value.kit) &&
    !draft.dirty.value,
)
const saved = computed(() =>
  draft.saving.value ? 'Saving' : draft.dirty.value ? 'Not saved yet' : kept.value?.draft ? 'Draft saved' : '',
)
const facts = computed(() =>
  [
    counted(tasksOf(kit.value!).length, 'task'),
    kept.value?.used_by.length && `used by ${counted(kept.value.used_by.length, 'rule or kit', 'rules and kits')}`,
    kept.value?.running &&
      `${counted(kept.value.running, 'running copy keeps', 'running copies keep')} the version they began with`,
  ]
    .filter(Boolean)
    .join(' · '),
)
const publishing = ref(false)
async function publish() {
  if (publishing.value || !(await draft.save())) return
  publishing.value = true
  try {
    const path = { id: draft.number()! }
    const body = { kit: kit.value!, stamp: draft.currentStamp()! }
    const fresh = await answerOf(api.POST('/api/kits/{id}/publish', { params: { path }, body }))
    draft.take(fresh)
    await loadSetup()
    say(`Version ${fresh.version} is published. Copies in use keep theirs.`)
  } catch (problem) {
    if (problem instanceof ApiError && problem.refusal.problems?.length) {
      problems.value = problem.refusal.problems.map(placed)
      tab.value = 'checks'
      say('Not published: the checks found something. Each is listed beside the kit.', 'bad')
    } else if (problem instanceof ApiError && problem.status === 409) draft.clash.value = problem.message
    else say(sentenceOf(problem), 'bad')
  } finally {
    publishing.value = false
  }
}
const makeRule = () =>
  attempt(async () => {
    const made = await answerOf(api.POST('/api/kits/{id}/rule', { params: { path: { id: id.value! } } }))
    await router.push(`/rules/${made.id}`)
  }, 'A draft rule that uses the kit. Say when it runs, then publish it.')
const retire = (retired: boolean) =>
  attempt(
    async () => {
      draft.take(
        await answerOf(api.POST('/api/kits/{id}/retire', { params: { path: { id: id.value! } }, body: { retired } })),
      )
      await loadSetup()
    },
    retired ? 'Out of use. Copies in use go on.' : 'In use again.',
  )
const dropping = ref(false)
async function dropDraft() {
  const gone = await attempt(
    () => answerOf(api.DELETE('/api/kits/{id}/draft', { params: { path: { id: id.value! } } })),
    'The draft is thrown away.',
  )
  dropping.value = false
  if (!gone) return
  draft.settle()
  if (kept.value?.version) await load()
  else await router.push('/kits')
}
async function setMark(mark: string, ink: string) {
  draft.take(
    await answerOf(api.PUT('/api/kits/{id}/mark', { params: { path: { id: id.value! } }, body: { mark, ink } })),
  )
}
const pasting = ref(false)
const using = ref(false)
const marking = ref(false)
const tried = ref<{ id: number; title: string } | null>(null)
const addPhase = () => change({ ...kit.value!, phases: [...kit.value!.phases, { name: '', tasks: [] }] })
const remove = (key: string) => {
  change(without(kit.value!, key))
  tab.value = 'runs'
  chosen.value = null
}
/** A part of a task goes to whoever has the task, until it says otherwise. */
async function addPart(whole: KitTask) {
  const taken = tasksOf(kit.value!).map((one) => one.key)
  const key = freeKey('part', taken)
  const { assign, fallback } = whole
  change(withPart(kit.value!, whole.key, { key, title: '', ...(assign && { assign }), ...(fallback && { fallback }) }))
  await chooseRow(key, true)
}
async function typeTask() {
  await nextTick()
  const boxes = document.querySelectorAll<HTMLInputElement>('input[aria-label^="A task for phase"]')
  boxes[boxes.length - 1]?.focus()
}
useKeys({
  a: typeTask,
  l: () => !fixed.value && (pasting.value = true),
  r: () => (tab.value = 'runs'),
  t: () => (tab.value = 'try'),
})
const tabs = computed(() => [
  { key: 'runs' as Tab, words: 'How it runs' },
  ...(fixed.value
    ? []
    : [
        { key: 'task' as Tab, words: 'Task' },
        { key: 'try' as Tab, words: 'Try' },
      ]),
  { key: 'checks' as Tab, words: 'Checks', count: problems.value.length },
  { key: 'history' as Tab, words: 'History' },
])
// All that loading touches stands above.
watch(id, load, { immediate: true })
</script>

<template>
  <TroubleBox v-if="trouble" :text="trouble" @retry="load" />
  <template v-else-if="kit">
    <PageHead>
      <template #title>
        <span class="hidden text-muted sm:inline"><RouterLink to="/kits">Kits</RouterLink> /</span>
        <h1 class="min-w-0 basis-44">
          <span v-if="fixed" class="text-xl font-bold">{{ kit.name }}</span>
          <input
            v-else
            :value="kit.name"
            class="in-place w-full py-[2px] text-xl font-bold"
            aria-label="Name of the kit"
            placeholder="Name of the kit"
            maxlength="120"
            @input="change({ ...kit, name: ($event.target as HTMLInputElement).value })"
          /></h1
      ></template>
      <template #default>
        <span class="min-w-0 flex-1 basis-60 text-muted">{{ facts }}</span>
        <span v-if="!fixed" class="text-sm text-muted" role="status">{{ saved }}</span>
        <span class="flex flex-wrap gap-2">
          <template v-if="!fixed">
            <button type="button" class="btn btn-quiet" :disabled="!past.canUndo.value" @click="past.undo()">
              Undo
            </button>
            <button type="button" class="btn btn-quiet" :disabled="!past.canRedo.value" @click="past.redo()">
              Redo
            </button>
            <button v-if="kept" type="button" class="btn btn-quiet" @click="marking = true">
              Mark <TaskMark v-if="kept.mark" :mark="kept.mark" />
            </button>
            <button v-if="kept?.draft" type="button" class="btn btn-quiet" @click="dropping = true">
              Throw the draft away
            </button>
            <button type="button" class="btn btn-quiet" aria-keyshortcuts="l" @click="pasting = true">
              Paste a list
            </button>
            <button v-if="kept?.state === 'on'" type="button" class="btn btn-quiet" @click="makeRule">
              Make a rule
            </button>
          </template>
          <button v-if="kept?.state === 'on'" type="button" class="btn" @click="using = true">Use on a record</button>
        </span>
      </template>
      <template #main
        ><button v-if="!fixed" type="button" class="btn btn-go" :disabled="publishing || unchanged" @click="publish">
          {{ unchanged ? `Version ${kept!.version} is published` : `Publish version ${nextVersion}` }}
        </button></template
      >
    </PageHead>
    <p v-if="fixed" class="border-b border-line bg-band px-5 py-2">
      You can read this kit. Administrators change kits; you are signed in as a {{ person?.role }}.
    </p>
    <p v-if="draft.wrong.value" class="border-b border-red bg-red-bg px-5 py-2" role="alert">
      The draft is not saved: {{ draft.wrong.value }}
      <button type="button" class="link" @click="draft.save()">Try again</button>
    </p>
    <div class="grid flex-1 min-[1000px]:grid-cols-[minmax(0,1fr)_430px]">
      <div class="min-w-0">
        <div class="flex flex-wrap items-center gap-[6px] border-b border-line bg-paper px-3 py-[10px] sm:px-5">
          <span class="lab">For a</span>
          <SelectBox
            :model-value="kit.record"
            :options="setup.kinds.map((one) => ({ value: one.key, words: one.label }))"
            label="Kind of record"
            strong
            :disabled="fixed"
            @update:model-value="(record) => change({ ...kit!, record })"
          />
          <span class="lab ml-2">Dates count</span>
          <SelectBox
            :model-value="kit.count ?? 'forward'"
            :options="[
              { value: 'forward', words: 'forward from' },
              { value: 'back', words: 'back from' },
            ]"
            label="Dates count"
            :disabled="fixed"
            @update:model-value="setCount"
          />
          <SelectBox
            :model-value="kit.from ?? 'event'"
            :options="froms"
            label="From what"
            blank="Choose a date field"
            strong
            :disabled="fixed"
            @update:model-value="(from) => change({ ...kit!, from })"
          />
          <span class="lab ml-2">A day off</span>
          <SelectBox
            :model-value="kit.day_off ?? 'later'"
            :options="setup.vocabulary.day_off.map((one) => ({ value: one, words: dayOffWords(one) }))"
            label="A day off"
            :disabled="fixed"
            @update:model-value="(day_off) => change({ ...kit!, day_off })"
          />
          <template v-if="!['event', 'now'].includes(kit.from ?? '')">
            <span class="lab ml-2">If it moves</span>
            <SelectBox
              :model-value="kit.moves ?? 'follow'"
              :options="[
                { value: 'follow', words: 'open tasks follow' },
                { value: 'stay', words: 'dates stay' },
              ]"
              label="If it moves"
              :disabled="fixed"
              @update:model-value="(moves) => change({ ...kit!, moves })"
            />
          </template>
        </div>
        <KitTable
          :model-value="kit"
          :kind="kind"
          :chosen="chosen"
          :broken="broken"
          :noted="noted"
          :fixed="fixed"
          @update:model-value="change"
          @choose="chooseRow"
        />
        <div v-if="!fixed" class="flex flex-wrap items-center gap-3 px-3 py-3 sm:px-5">
          <button type="button" class="btn btn-quiet" @click="addPhase">Add a phase</button>
          <span class="ml-auto hidden text-muted sm:inline"
            ><KeyCap>A</KeyCap> task <KeyCap>L</KeyCap> paste a list <KeyCap>Alt ↑↓</KeyCap> move <KeyCap>R</KeyCap> how
            it runs <KeyCap>T</KeyCap> try</span
          >
        </div>
      </div>
      <aside id="kit-side" class="side border-pine bg-paper min-[1000px]:border-l" aria-label="Beside the kit">
        <SideTabs v-model="tab" :tabs="tabs">
          <div class="p-4">
            <template v-if="tab === 'runs'">
              <p v-if="!tasksOf(kit).length" class="text-muted">
                The drawing is made from the table. Type the first task, or paste a list.
              </p>
              <template v-else>
                <p class="mb-2 text-right text-muted">drawn from the table</p>
                <KitDrawing :kit="kit" :chosen="chosen" :trouble="noted" @choose="(key) => choose(key)" />
                <p v-for="note in notes" :key="note.text" class="mt-3">
                  <span class="flag bg-amber-bg text-amber">{{
                    note.kind === 'open' ? 'One way out is open' : 'Somebody has left'
                  }}</span>
                  <span class="text-muted"> {{ note.text }}</span>
                </p>
                <p v-for="problem in problems.filter((one) => !one.key)" :key="problem.text" class="mt-3">
                  <span class="flag bg-red-bg text-red">To mend</span> {{ problem.where }} {{ problem.text }}
                </p>
              </template>
            </template>
            <template v-else-if="tab === 'task'">
              <KitTaskEditor
                v-if="task"
                :key="task.key"
                :model-value="task"
                :kit="kit"
                :kind="kind"
                :references="references"
                :self="kept?.key ?? null"
                :wrong="wrong"
                @update:model-value="(next) => change(withTask(kit!, task!.key, next))"
                @remove="remove(task.key)"
                @part="addPart(task)"
              />
              <p v-else class="text-muted">Choose a task in the table to see and change all it can say.</p>
            </template>
            <KitTryPanel
              v-else-if="tab === 'try'"
              v-model="tried"
              :kit="kit"
              :kit-key="kept?.key ?? null"
              :kind="kind"
              @choose="(key) => choose(key, true)"
            />
            <KitChecks
              v-else-if="tab === 'checks'"
              :kit="kit"
              :problems="problems"
              :notes="notes"
              :ahead="ahead"
              :kinds="kind.plural"
              @choose="(key) => choose(key, true)"
            />
            <KitHistory v-else :kept="kept" :fixed="fixed" @take="change" @retire="retire" />
          </div>
        </SideTabs>
      </aside>
    </div>
    <PasteDialog :open="pasting" :kit="kit" :kind="kind" @close="pasting = false" @take="change" />
    <UseKitDialog v-if="kept" :id="kept.id" :open="using" :name="kit.name" :kind="kind" @close="using = false" />
    <MarkDialog v-if="kept" :open="marking" :mark="kept.mark" :save="setMark" @close="marking = false" />
    <DialogBox :open="draft.clash.value !== null" title="Somebody else changed this kit" @close="draft.theirs">
      <p class="mb-4">{{ draft.clash.value }}</p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="draft.mine">Save mine over theirs</button>
        <button type="button" class="btn" @click="draft.theirs">Take theirs</button>
      </div>
    </DialogBox>
    <DialogBox :open="dropping" title="Throw the draft away?" @close="dropping = false">
      <p class="mb-4">
        {{
          kept?.version
            ? `The kit goes back to version ${kept.version}.`
            : 'The kit was never published and goes with it.'
        }}
        This cannot be taken back.
      </p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="dropDraft">Throw it away</button>
        <button type="button" class="btn" @click="dropping = false">Keep it</button>
      </div>
    </DialogBox>
  </template>
</template>

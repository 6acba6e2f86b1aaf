<script setup lang="ts">
import { useManualRefHistory } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import KitBasis from '@/kit/KitBasis.vue'
import KitChecks from '@/kit/KitChecks.vue'
import KitDrawing from '@/kit/KitDrawing.vue'
import KitHead from '@/kit/KitHead.vue'
import KitHistory from '@/kit/KitHistory.vue'
import KitTable from '@/kit/KitTable.vue'
import KitTaskEditor from '@/kit/KitTaskEditor.vue'
import KitTryPanel from '@/kit/KitTryPanel.vue'
import { blankKit, freeKey, tasksOf, without, withPart, withTask, type Kit, type KitTask } from '@/kit/model'
import PasteDialog from '@/kit/PasteDialog.vue'
import { useKitChecks } from '@/kit/useKitChecks'
import UseKitDialog from '@/kit/UseKitDialog.vue'
import { useKeys } from '@/lib/useKeys'
import { useNotices } from '@/lib/useNotices'
import KeyCap from '@/parts/KeyCap.vue'
import SideTabs from '@/parts/SideTabs.vue'
import { sidesOf } from '@/rule/model'
import SheetShell from '@/sheet/SheetShell.vue'
import { useSheetPage } from '@/sheet/useSheetPage'
import { loadSetup, useSetup } from '@/state/setup'

const router = useRouter()
const { setup, kindOf } = useSetup()
const { say, attempt } = useNotices()
type Tab = 'runs' | 'task' | 'try' | 'checks' | 'history'
const tab = ref<Tab>('runs')
const chosen = ref<string | null>(null)

const page = useSheetPage<Kit, Schemas['Kit']>({
  noun: 'kit',
  calls: {
    get: (id) => answerOf(api.GET('/api/kits/{id}', { params: { path: { id } } })),
    make: (body) => answerOf(api.POST('/api/kits', { body: { kit: body } })),
    keep: (id, body, stamp) =>
      answerOf(api.PUT('/api/kits/{id}/draft', { params: { path: { id } }, body: { kit: body, stamp } })),
    bodyOf: (fresh) => fresh.kit,
    drop: (id) => answerOf(api.DELETE('/api/kits/{id}/draft', { params: { path: { id } } })),
    mark: (id, mark, ink) =>
      answerOf(api.PUT('/api/kits/{id}/mark', { params: { path: { id } }, body: { mark, ink } })),
  },
  blank: (kind) => blankKit(kind, setup.value.kit_format),
  begun,
  unfit: (problems) => {
    checks.found(problems)
    tab.value = 'checks'
  },
})
const { id, draft, body: kit, kept, fixed } = page
const past = useManualRefHistory(kit, { capacity: 100 })
const checks = useKitChecks(kit, () => kept.value?.key ?? null, chosen)
const { problems, notes } = checks
page.start()

/** The sheet has a kit: one phase at least, and nothing to undo. */
function begun() {
  if (kit.value && !kit.value.phases.length) kit.value = { ...kit.value, phases: [{ name: '', tasks: [] }] }
  past.commit()
  past.clear()
  void checks.look()
}
function change(next: Kit) {
  if (fixed.value) return
  kit.value = next
  past.commit()
}
const kind = computed(() => kindOf(kit.value?.record ?? '') ?? setup.value.kinds[0]!)
const references = computed(() => sidesOf(setup.value, kind.value))
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

async function publish() {
  const fresh = await page.publish((number, stamp) =>
    answerOf(
      api.POST('/api/kits/{id}/publish', { params: { path: { id: number } }, body: { kit: kit.value!, stamp } }),
    ),
  )
  if (!fresh) return
  await loadSetup()
  say(`Version ${fresh.version} is published. Copies in use keep theirs.`)
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
const pasting = ref(false)
const using = ref(false)
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
</script>

<template>
  <SheetShell :page="page" :there="!!kit">
    <template #head>
      <KitHead
        v-if="kit"
        :kit="kit"
        :kept="kept"
        :saved="page.saved.value"
        :fixed="fixed"
        :next-version="page.nextVersion.value"
        :unchanged="page.unchanged.value"
        :publishing="page.publishing.value"
        :can-undo="past.canUndo.value"
        :can-redo="past.canRedo.value"
        @name="(name) => change({ ...kit!, name })"
        @undo="past.undo"
        @redo="past.redo"
        @mark="page.marking.value = true"
        @drop="page.dropping.value = true"
        @paste="pasting = true"
        @rule="makeRule"
        @use="using = true"
        @publish="publish"
      />
    </template>
    <template v-if="kit">
      <div class="grid flex-1 min-[1000px]:grid-cols-[minmax(0,1fr)_430px]">
        <div class="min-w-0">
          <KitBasis :model-value="kit" :kind="kind" :fixed="fixed" @update:model-value="change" />
          <KitTable
            :model-value="kit"
            :kind="kind"
            :chosen="chosen"
            :broken="checks.broken.value"
            :noted="checks.noted.value"
            :fixed="fixed"
            @update:model-value="change"
            @choose="chooseRow"
          />
          <div v-if="!fixed" class="flex flex-wrap items-center gap-3 px-3 py-3 sm:px-5">
            <button type="button" class="btn btn-quiet" @click="addPhase">Add a phase</button>
            <span class="ml-auto hidden text-muted sm:inline"
              ><KeyCap>A</KeyCap> task <KeyCap>L</KeyCap> paste a list <KeyCap>Alt ↑↓</KeyCap> move
              <KeyCap>R</KeyCap> how it runs <KeyCap>T</KeyCap> try</span
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
                  <KitDrawing
                    :kit="kit"
                    :chosen="chosen"
                    :trouble="checks.noted.value"
                    @choose="(key) => choose(key)"
                  />
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
                  :wrong="checks.wrong.value"
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
                :ahead="checks.ahead.value"
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
    </template>
  </SheetShell>
</template>

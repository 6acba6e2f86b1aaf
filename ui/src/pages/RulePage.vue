<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useKeys } from '@/lib/useKeys'
import { useNotices } from '@/lib/useNotices'
import KeyCap from '@/parts/KeyCap.vue'
import BranchTable from '@/rule/BranchTable.vue'
import DateStrip from '@/rule/DateStrip.vue'
import {
  actionsOf,
  blankAction,
  blankBranch,
  blankRule,
  isTask,
  sidesOf,
  withActions,
  type Action,
  type Place,
  type Rule,
} from '@/rule/model'
import { isBroken, noteOf } from '@/rule/problems'
import RuleBar from '@/rule/RuleBar.vue'
import RuleHead from '@/rule/RuleHead.vue'
import PublishTimers, { type Past } from '@/rule/PublishTimers.vue'
import ResumeTimers from '@/rule/ResumeTimers.vue'
import RunOnMatch from '@/rule/RunOnMatch.vue'
import SidePanel from '@/rule/SidePanel.vue'
import { isTimed, watchesTask } from '@/rule/triggers'
import { useSheet } from '@/rule/useSheet'
import { useTrying } from '@/rule/useTrying'
import SheetShell from '@/sheet/SheetShell.vue'
import { useSheetPage } from '@/sheet/useSheetPage'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import UndoDialog from '@/trail/UndoDialog.vue'

const { setup, subjectOf } = useSetup()
const { mayWriteRules } = useSession()
const { say, attempt } = useNotices()

const page = useSheetPage<Rule, Schemas['Rule']>({
  noun: 'rule',
  calls: {
    get: (id) => answerOf(api.GET('/api/rules/{id}', { params: { path: { id } } })),
    make: (body) => answerOf(api.POST('/api/rules', { body: { rule: body } })),
    keep: (id, body, stamp) =>
      answerOf(api.PUT('/api/rules/{id}/draft', { params: { path: { id } }, body: { rule: body, stamp } })),
    bodyOf: (fresh) => fresh.rule,
    drop: (id) => answerOf(api.DELETE('/api/rules/{id}/draft', { params: { path: { id } } })),
    mark: (id, mark, ink) =>
      answerOf(api.PUT('/api/rules/{id}/mark', { params: { path: { id } }, body: { mark, ink } })),
  },
  blank: (kind) => blankRule(kind, setup.value.rule_format),
  begun: () => {
    sheet.forget()
    trying.run()
  },
  unfit: (problems) => {
    trying.problems.value = problems
    place.value = { what: 'checks' }
  },
})
const { id, draft, body: rule, kept, fixed } = page
const place = ref<Place>({ what: 'try' })
const row = ref(0)
const sheet = useSheet(rule, place, fixed)
const trying = useTrying(rule, id, mayWriteRules)
page.start()
watch(place, (at) => 'row' in at && (row.value = at.row))

const kind = computed(() => subjectOf(rule.value?.record ?? '') ?? setup.value.kinds[0]!)
const references = computed(() =>
  sidesOf(setup.value, kind.value, !!rule.value && !isTask(kind.value) && watchesTask(setup.value, rule.value)),
)
const change = sheet.change

function go(to: Place) {
  if (fixed.value && ['action', 'branch', 'only_if'].includes(to.what)) return
  place.value = to.what === 'branch' && to.row === rule.value!.branches.length ? { what: 'try' } : to
}
function addBranch() {
  if (fixed.value || !rule.value) return
  const before = rule.value.run === 'before_save'
  const branch = before ? { ...blankBranch(), do: [usualAction()] } : blankBranch()
  change({ ...rule.value, branches: [...rule.value.branches, branch] })
  go({ what: 'branch', row: rule.value.branches.length - 1 })
}
const usualAction = (): Action =>
  rule.value?.run === 'before_save' ? { action: 'set', values: [{ field: '', value: null }] } : blankAction()
function addOtherwise() {
  change({ ...rule.value!, otherwise: [usualAction()] })
  go({ what: 'action', row: rule.value!.branches.length, index: 0 })
}
async function addAction(at: number) {
  if (fixed.value || !rule.value) return
  const actions = [...actionsOf(rule.value, at), usualAction()]
  change(withActions(rule.value, at, actions))
  go({ what: 'action', row: at, index: actions.length - 1 })
  await nextTick()
  document.querySelector<HTMLElement>('#rule-side [data-first] button, #rule-side input')?.focus()
}

const broken = (line: number) => isBroken(trying.problems.value, rule.value!, line)
const noted = (line: number) => noteOf(trying.notes.value, line)
const past = ref<Past | null>(null)
/** Moments that are past already are asked about first. */
async function asksFirst() {
  const found = await answerOf(api.POST('/api/try/past', { body: { rule: rule.value!, stamp: null } }))
  if (found.count > 0) past.value = found
  return found.count > 0
}
async function publish(about?: 'skip' | 'fire') {
  past.value = null
  const fresh = await page.publish(async (number, stamp) => {
    if (!about && timed.value && (await asksFirst())) return null
    const body = { rule: rule.value!, stamp, past: about ?? 'skip' }
    return answerOf(api.POST('/api/rules/{id}/publish', { params: { path: { id: number } }, body }))
  })
  if (!fresh) return
  if (timed.value) place.value = { what: 'timers' }
  say(
    timed.value
      ? `Version ${fresh.version} is on. Its timers are being built.`
      : `Version ${fresh.version} is on. Records of before are not touched.`,
  )
}
const pause = () =>
  attempt(
    async () => draft.take(await answerOf(api.POST('/api/rules/{id}/pause', { params: { path: { id: id.value! } } }))),
    'Paused. What happens now is not met by this rule.',
  )
const held = ref<number | null>(null)
async function resume(late?: boolean) {
  held.value = null
  const path = { id: id.value! }
  await attempt(async () => {
    if (late === undefined && kept.value?.timers) {
      const found = await answerOf(api.GET('/api/rules/{id}/timers', { params: { path } }))
      if (found.held) return void (held.value = found.held)
    }
    const query = late ? { late: 'yes' as const } : {}
    draft.take(await answerOf(api.POST('/api/rules/{id}/resume', { params: { path, query } })))
    say('On again. What happened while it was paused is not made up for.')
  })
}
const timed = computed(() => (rule.value ? isTimed(setup.value, rule.value) : false))
function takeVersion(old: Rule) {
  change(old)
  say('It stands on the sheet as the draft. Publish it to put it in force.')
}
const running = ref(false)
const takingBack = ref(false)
const strip = computed(() => trying.plan.value?.tasks.some((task) => task.due))

useKeys({
  b: addBranch,
  a: () => addAction(row.value),
  t: () => go({ what: 'try' }),
  c: () => document.querySelector<HTMLElement>('[data-test="add-column"]')?.click(),
  Delete: () => sheet.remove(),
})
</script>

<template>
  <SheetShell :page="page" :there="!!rule">
    <template #head>
      <RuleBar
        v-if="rule"
        :name="rule.name"
        :kept="kept"
        :saved="page.saved.value"
        :fixed="fixed"
        :next-version="page.nextVersion.value"
        :unchanged="page.unchanged.value"
        :publishing="page.publishing.value"
        :can-undo="sheet.canUndo.value"
        :can-redo="sheet.canRedo.value"
        @name="(name) => change({ ...rule!, name })"
        @undo="sheet.undo"
        @redo="sheet.redo"
        @pause="pause"
        @resume="resume()"
        @drop="page.dropping.value = true"
        @publish="publish()"
        @run="running = true"
        @back="takingBack = true"
        @mark="page.marking.value = true"
      />
    </template>
    <template v-if="rule">
      <div class="grid flex-1 min-[1000px]:grid-cols-[minmax(0,1fr)_372px]">
        <div class="flex min-w-0 flex-col gap-3 px-3 py-[14px] sm:px-5">
          <RuleHead :model-value="rule" :kind="kind" :fixed="fixed" @update:model-value="change" @go="go" />
          <BranchTable
            :rule="rule"
            :kind="kind"
            :setup="setup"
            :references="references"
            :row="row"
            :place="place"
            :broken="broken"
            :noted="noted"
            :fixed="fixed"
            @go="go"
            @choose="(line) => (row = line)"
            @change="change"
            @add-action="addAction"
            @carry-branch="sheet.carryBranch"
            @carry-action="sheet.carryAction"
          />
          <div v-if="!fixed" class="flex flex-wrap items-center gap-2">
            <button type="button" class="btn btn-quiet" aria-keyshortcuts="b" @click="addBranch">Add a branch</button>
            <button v-if="!rule.otherwise" type="button" class="btn btn-quiet" @click="addOtherwise">
              Add an otherwise
            </button>
            <button v-if="sheet.clip.value" type="button" class="btn btn-quiet" title="Ctrl V" @click="sheet.paste">
              Paste the {{ sheet.clip.value.what }}
            </button>
            <span class="ml-auto hidden text-muted sm:inline"
              ><KeyCap>B</KeyCap> branch <KeyCap>A</KeyCap> action <KeyCap>C</KeyCap> column <KeyCap>T</KeyCap> try
              <KeyCap>Alt ↑↓</KeyCap> move</span
            >
          </div>
          <div v-if="strip">
            <div class="lab mb-1">What it puts on the calendar for {{ trying.title.value }}</div>
            <DateStrip :plan="trying.plan.value!" />
          </div>
        </div>
        <SidePanel
          :rule="rule"
          :kept="kept"
          :kind="kind"
          :references="references"
          :place="place"
          :row="row"
          :fixed="fixed"
          :trying="trying"
          :sheet="sheet"
          @go="go"
          @take="takeVersion"
        />
      </div>

      <RunOnMatch
        v-if="kept?.version"
        :open="running"
        :kept="kept"
        :kind="kind"
        :filter="trying.filter.value"
        @close="running = false"
      />
      <PublishTimers
        :past="past"
        :kept="kept"
        :kind="kind"
        :version="page.nextVersion.value"
        @close="past = null"
        @publish="(about) => publish(about)"
      />
      <ResumeTimers :held="held" @close="held = null" @resume="(late) => resume(late)" />
      <UndoDialog v-if="kept" :open="takingBack" :rule="kept.id" @close="takingBack = false" />
    </template>
  </SheetShell>
</template>

<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDraft } from '@/lib/useDraft'
import { useKeys } from '@/lib/useKeys'
import { useNotices } from '@/lib/useNotices'
import DialogBox from '@/parts/DialogBox'
import MarkDialog from '@/parts/MarkDialog.vue'
import KeyCap from '@/parts/KeyCap.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
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
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import UndoDialog from '@/trail/UndoDialog.vue'

const route = useRoute()
const router = useRouter()
const { setup, subjectOf } = useSetup()
const { mayWriteRules, person } = useSession()
const { say, attempt } = useNotices()

const id = computed(() => (route.params.id === 'new' ? null : Number(route.params.id)))
const draft = useDraft<Rule, Schemas['Rule']>(
  id,
  {
    get: (number) => answerOf(api.GET('/api/rules/{id}', { params: { path: { id: number } } })),
    make: (body) => answerOf(api.POST('/api/rules', { body: { rule: body } })),
    keep: (number, body, stamp) =>
      answerOf(api.PUT('/api/rules/{id}/draft', { params: { path: { id: number } }, body: { rule: body, stamp } })),
    bodyOf: (fresh) => fresh.rule,
  },
  (made) => void router.replace(`/rules/${made}`),
)
const { body: rule, kept } = draft
const trouble = ref<string | null>(null)
const fixed = computed(() => !mayWriteRules.value)
const place = ref<Place>({ what: 'try' })
const row = ref(0)
const sheet = useSheet(rule, place, fixed)
const trying = useTrying(rule, id, mayWriteRules)

async function load() {
  trouble.value = null
  if (id.value !== null && draft.madeHere(id.value)) return
  try {
    const first = setup.value.kinds.find((one) => one.key === 'deal') ?? setup.value.kinds[0]!
    if (id.value === null) draft.begin(blankRule(first.key, setup.value.rule_format))
    else await draft.load()
    sheet.forget()
    trying.run()
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
watch(id, load, { immediate: true })
watch(
  () => rule.value?.name,
  (name) => (document.title = `${name || 'New rule'} · Yenvo`),
)
watch(place, (at) => 'row' in at && (row.value = at.row))
onBeforeRouteLeave(async () => {
  if (mayWriteRules.value && rule.value && draft.dirty.value) await draft.save()
})

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
const usualAction = () =>
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
const nextVersion = computed(() => (kept.value?.version ?? 0) + 1)
const unchanged = computed(
  () =>
    !!kept.value?.published &&
    JSON.stringify(kept.value.published) === JSON.stringify(kept.value.rule) &&
    !draft.dirty.value,
)
const saved = computed(() =>
  draft.saving.value ? 'Saving' : draft.dirty.value ? 'Not saved yet' : kept.value?.draft ? 'Draft saved' : '',
)
const publishing = ref(false)
const past = ref<Past | null>(null)
/** Moments that are past already are asked about first. */
async function asksFirst() {
  const found = await answerOf(api.POST('/api/try/past', { body: { rule: rule.value!, stamp: null } }))
  if (found.count > 0) past.value = found
  return found.count > 0
}
async function publish(about?: 'skip' | 'fire') {
  past.value = null
  if (publishing.value || !(await draft.save())) return
  publishing.value = true
  try {
    const path = { id: draft.number()! }
    if (!about && timed.value && (await asksFirst())) return
    const body = { rule: rule.value!, stamp: draft.currentStamp(), past: about ?? 'skip' }
    const fresh = await answerOf(api.POST('/api/rules/{id}/publish', { params: { path }, body }))
    draft.take(fresh)
    if (timed.value) place.value = { what: 'timers' }
    say(
      timed.value
        ? `Version ${fresh.version} is on. Its timers are being built.`
        : `Version ${fresh.version} is on. Records of before are not touched.`,
    )
  } catch (problem) {
    if (problem instanceof ApiError && problem.refusal.problems?.length) {
      trying.problems.value = problem.refusal.problems
      place.value = { what: 'checks' }
      say('Not published: the checks found something. Each is listed beside the rule.', 'bad')
    } else if (problem instanceof ApiError && problem.status === 409) draft.clash.value = problem.message
    else say(sentenceOf(problem), 'bad')
  } finally {
    publishing.value = false
  }
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
const dropping = ref(false)
async function dropDraft() {
  const gone = await attempt(
    () => answerOf(api.DELETE('/api/rules/{id}/draft', { params: { path: { id: id.value! } } })),
    'The draft is thrown away.',
  )
  dropping.value = false
  if (!gone) return
  draft.settle()
  if (kept.value?.version) await load()
  else await router.push('/rules')
}
function takeVersion(old: Rule) {
  change(old)
  say('It stands on the sheet as the draft. Publish it to put it in force.')
}
const running = ref(false)
const takingBack = ref(false)
const marking = ref(false)
async function setMark(mark: string, ink: string) {
  const path = { id: id.value! }
  draft.take(await answerOf(api.PUT('/api/rules/{id}/mark', { params: { path }, body: { mark, ink } })))
}
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
  <TroubleBox v-if="trouble" :text="trouble" @retry="load" />
  <template v-else-if="rule">
    <RuleBar
      :name="rule.name"
      :kept="kept"
      :saved="saved"
      :fixed="fixed"
      :next-version="nextVersion"
      :unchanged="unchanged"
      :publishing="publishing"
      :can-undo="sheet.canUndo.value"
      :can-redo="sheet.canRedo.value"
      @name="(name) => change({ ...rule!, name })"
      @undo="sheet.undo"
      @redo="sheet.redo"
      @pause="pause"
      @resume="resume()"
      @drop="dropping = true"
      @publish="publish()"
      @run="running = true"
      @back="takingBack = true"
      @mark="marking = true"
    />
    <p v-if="fixed" class="border-b border-line bg-band px-5 py-2">
      You can read this rule. Administrators change rules; you are signed in as a {{ person?.role }}.
    </p>
    <p v-if="draft.wrong.value" class="border-b border-red bg-red-bg px-5 py-2" role="alert">
      The draft is not saved: {{ draft.wrong.value }}
      <button type="button" class="link" @click="draft.save()">Try again</button>
    </p>

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

    <DialogBox :open="draft.clash.value !== null" title="Somebody else changed this rule" @close="draft.theirs">
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
            ? `The rule goes back to version ${kept.version}.`
            : 'The rule was never published and goes with it.'
        }}
        This cannot be taken back.
      </p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="dropDraft">Throw it away</button>
        <button type="button" class="btn" @click="dropping = false">Keep it</button>
      </div>
    </DialogBox>
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
      :version="nextVersion"
      @close="past = null"
      @publish="(about) => publish(about)"
    />
    <ResumeTimers :held="held" @close="held = null" @resume="(late) => resume(late)" />
    <MarkDialog v-if="kept" :open="marking" :mark="kept.mark" :save="setMark" @close="marking = false" />
    <UndoDialog v-if="kept" :open="takingBack" :rule="kept.id" @close="takingBack = false" />
  </template>
</template>

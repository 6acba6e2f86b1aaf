<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { answerOf, api, ApiError, sentenceOf } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useKeys } from '@/lib/useKeys'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox.vue'
import KeyCap from '@/parts/KeyCap.vue'
import SelectBox from '@/parts/SelectBox.vue'
import StateMark from '@/parts/StateMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import ActionEditor from '@/rule/ActionEditor.vue'
import BranchTable from '@/rule/BranchTable.vue'
import DateStrip from '@/rule/DateStrip.vue'
import GroupEditor from '@/rule/GroupEditor.vue'
import {
  actionsOf,
  blankAction,
  blankBranch,
  blankRule,
  itemsOf,
  modeOf,
  moved,
  referencesOf,
  useRuleWords,
  withActions,
  withBranch,
  type Action,
  type Group,
  type Place,
  type Rule,
} from '@/rule/model'
import { isBroken, placeOf, spokenPlace, wrongInAction } from '@/rule/problems'
import TriggerLine from '@/rule/TriggerLine.vue'
import TryPanel from '@/rule/TryPanel.vue'
import { useDraft } from '@/rule/useDraft'
import { useTrying } from '@/rule/useTrying'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

const route = useRoute()
const router = useRouter()
const { setup, kindOf, nameOf } = useSetup()
const { mayWriteRules, person } = useSession()
const { moment } = useDates()
const { say, attempt } = useNotices()

const id = computed(() => (route.params.id === 'new' ? null : Number(route.params.id)))
const draft = useDraft(id, (made) => void router.replace(`/rules/${made}`))
const { rule, kept } = draft
const trouble = ref<string | null>(null)

async function load() {
  trouble.value = null
  if (id.value !== null && draft.madeHere(id.value)) return
  try {
    if (id.value === null)
      draft.begin(
        blankRule(
          setup.value.kinds.find((kind) => kind.key === 'deal')?.key ?? setup.value.kinds[0]!.key,
          setup.value.rule_format,
        ),
      )
    else await draft.load()
    trying.run()
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
const trying = useTrying(rule, id, mayWriteRules)
watch(id, load, { immediate: true })
watch(
  () => rule.value?.name,
  (name) => (document.title = `${name || 'New rule'} · Yenvo`),
)
onBeforeRouteLeave(async () => {
  if (mayWriteRules.value && rule.value && draft.dirty.value) await draft.save()
})

const kind = computed(() => kindOf(rule.value?.record ?? '') ?? setup.value.kinds[0]!)
const references = computed(() => referencesOf(kind.value, setup.value.kinds))
const words = computed(() => useRuleWords(setup.value, kind.value))
const fixed = computed(() => !mayWriteRules.value)

// What the side panel shows, and which row is chosen.
const place = ref<Place>({ what: 'try' })
const row = ref(0)
const actionAt = computed<Action | null>(() => {
  const at = place.value
  return at.what === 'action' && rule.value ? (actionsOf(rule.value, at.row)[at.index] ?? null) : null
})
const branchAt = computed(() => {
  const at = place.value
  return at.what === 'branch' && rule.value ? (rule.value.branches[at.row] ?? null) : null
})

function go(to: Place) {
  if (fixed.value && ['action', 'branch', 'only_if'].includes(to.what)) return
  if ('row' in to) row.value = to.row
  place.value = to.what === 'branch' && to.row === rule.value!.branches.length ? { what: 'try' } : to
}
const change = (next: Rule) => (rule.value = next)

function addBranch() {
  if (fixed.value || !rule.value) return
  change({ ...rule.value, branches: [...rule.value.branches, blankBranch()] })
  go({ what: 'branch', row: rule.value.branches.length - 1 })
}
function addOtherwise() {
  change({ ...rule.value!, otherwise: [blankAction()] })
  go({ what: 'action', row: rule.value!.branches.length, index: 0 })
}
async function addAction(at: number) {
  if (fixed.value || !rule.value) return
  const actions = [...actionsOf(rule.value, at), blankAction()]
  change(withActions(rule.value, at, actions))
  go({ what: 'action', row: at, index: actions.length - 1 })
  await nextTick()
  document.querySelector<HTMLInputElement>('#rule-side input')?.focus()
}
function moveAction(step: number) {
  const at = place.value as { what: 'action'; row: number; index: number }
  const actions = actionsOf(rule.value!, at.row)
  change(withActions(rule.value!, at.row, moved(actions, at.index, step)))
  go({ ...at, index: Math.min(Math.max(at.index + step, 0), actions.length - 1) })
}
function removeAction() {
  const at = place.value as { what: 'action'; row: number; index: number }
  const actions = actionsOf(rule.value!, at.row).filter((_, index) => index !== at.index)
  if (!actions.length && at.row === rule.value!.branches.length) {
    const { otherwise: _gone, ...rest } = rule.value!
    change(rest)
  } else change(withActions(rule.value!, at.row, actions))
  go({ what: 'try' })
}
function moveBranch(step: number) {
  const at = place.value as { what: 'branch'; row: number }
  const branches = moved(rule.value!.branches, at.row, step)
  change({ ...rule.value!, branches })
  go({ what: 'branch', row: Math.min(Math.max(at.row + step, 0), branches.length - 1) })
}
function removeBranch() {
  const at = place.value as { what: 'branch'; row: number }
  change({ ...rule.value!, branches: rule.value!.branches.filter((_, index) => index !== at.row) })
  row.value = 0
  go({ what: 'try' })
}
function setOnlyIf(group: Group) {
  const { only_if: _gone, ...rest } = rule.value!
  change(itemsOf(group).length ? { ...rest, only_if: group } : rest)
}

const broken = (line: number) => isBroken(trying.problems.value, rule.value!, line)
const wrongHere = computed(() => {
  const here = place.value
  return here.what === 'action' ? wrongInAction(trying.problems.value, rule.value!, here.row, here.index) : {}
})

const nextVersion = computed(() => (kept.value?.version ?? 0) + 1)
const unchanged = computed(
  () =>
    kept.value?.published &&
    JSON.stringify(kept.value.published) === JSON.stringify(kept.value.rule) &&
    !draft.dirty.value,
)
const publishing = ref(false)
async function publish() {
  if (publishing.value || !(await draft.save())) return
  publishing.value = true
  try {
    const fresh = await answerOf(
      api.POST('/api/rules/{id}/publish', {
        params: { path: { id: draft.number()! } },
        body: { rule: rule.value!, stamp: draft.currentStamp() },
      }),
    )
    draft.take(fresh)
    say(`Version ${fresh.version} is on. Records of before are not touched.`)
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
const resume = () =>
  attempt(
    async () => draft.take(await answerOf(api.POST('/api/rules/{id}/resume', { params: { path: { id: id.value! } } }))),
    'On again. What happened while it was paused is not made up for.',
  )
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
const dropping = ref(false)
const tabs = computed(() => [
  { what: 'try' as const, words: 'Try', count: 0 },
  { what: 'checks' as const, words: 'Checks', count: trying.problems.value.length },
  ...(kept.value?.versions.length ? [{ what: 'history' as const, words: 'History', count: 0 }] : []),
])
const branchingWords: Record<string, string> = {
  first: 'First branch that matches',
  every: 'Every branch that matches',
}
const summary = computed(() => {
  const count = rule.value!.branches.length
  return `${counted(count, 'branch', 'branches')}${rule.value!.otherwise ? ' and an otherwise' : ''}`
})

useKeys({ b: addBranch, a: () => addAction(row.value), t: () => go({ what: 'try' }) })
</script>

<template>
  <TroubleBox v-if="trouble" :text="trouble" @retry="load" />
  <template v-else-if="rule">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-pine bg-paper px-3 py-3 sm:px-5">
      <span class="text-muted"><RouterLink to="/rules">Rules</RouterLink> /</span>
      <h1 class="min-w-0 flex-1 basis-56">
        <span v-if="fixed" class="text-xl font-bold">{{ rule.name }}</span>
        <input
          v-else
          :value="rule.name"
          class="w-full rounded-xs border border-transparent px-1 py-[2px] text-xl font-bold hover:border-line focus:border-line"
          aria-label="Name of the rule"
          placeholder="Name of the rule"
          maxlength="120"
          @input="change({ ...rule, name: ($event.target as HTMLInputElement).value })"
        />
      </h1>
      <StateMark v-if="kept" :state="kept.state" :version="kept.version" />
      <span v-if="kept?.version && kept.changes" class="flag bg-amber-bg text-amber"
        >Draft {{ nextVersion }} has {{ counted(kept.changes, 'change') }}</span
      >
      <span v-if="!fixed" class="text-sm text-muted" role="status">{{
        draft.saving.value ? 'Saving' : draft.dirty.value ? 'Not saved yet' : kept?.draft ? 'Draft saved' : ''
      }}</span>
      <span class="flex flex-wrap gap-2">
        <a v-if="id" :href="`/api/rule-files/${id}`" class="btn btn-quiet" download>Save as a file</a>
        <template v-if="!fixed">
          <button v-if="kept?.state === 'on'" type="button" class="btn btn-quiet" @click="pause">Pause</button>
          <button v-if="kept?.state === 'paused'" type="button" class="btn" @click="resume">Resume</button>
          <button v-if="kept?.draft" type="button" class="btn btn-quiet" @click="dropping = true">
            Throw the draft away
          </button>
          <button type="button" class="btn btn-go" :disabled="publishing || !!unchanged" @click="publish">
            {{ unchanged ? `Version ${kept!.version} is published` : `Publish version ${nextVersion}` }}
          </button>
        </template>
      </span>
    </div>
    <p v-if="fixed" class="border-b border-line bg-band px-5 py-2">
      You can read this rule. Administrators change rules; you are signed in as a {{ person?.role }}.
    </p>
    <p v-if="draft.wrong.value" class="border-b border-red bg-red-bg px-5 py-2" role="alert">
      The draft is not saved: {{ draft.wrong.value }}
      <button type="button" class="link" @click="draft.save()">Try again</button>
    </p>

    <div class="grid flex-1 min-[1000px]:grid-cols-[minmax(0,1fr)_372px]">
      <div class="flex min-w-0 flex-col gap-3 px-3 py-[14px] sm:px-5">
        <div class="grid items-start gap-x-[10px] gap-y-3 sm:grid-cols-[92px_1fr]">
          <span class="lab sm:pt-2 sm:text-right">Trigger</span>
          <TriggerLine v-model="rule" :kind="kind" :disabled="fixed" />
          <span class="lab sm:pt-2 sm:text-right">Only if {{ modeOf(rule.only_if) }}</span>
          <div class="flex min-h-[30px] flex-wrap items-center gap-[6px]">
            <button
              v-for="(item, index) in itemsOf(rule.only_if)"
              :key="index"
              type="button"
              class="min-h-[30px] rounded-xs border border-line bg-paper px-2 py-[5px] text-left hover:border-muted disabled:cursor-default"
              :disabled="fixed"
              @click="go({ what: 'only_if' })"
            >
              <template v-if="item.field"
                ><b>{{ words.label(item.field) }}</b> {{ words.phrase(item) }}</template
              >
              <template v-else>{{ words.sentence(item) }}</template>
            </button>
            <button v-if="!fixed" type="button" class="link" @click="go({ what: 'only_if' })">
              {{ itemsOf(rule.only_if).length ? 'Change the conditions' : 'Add a condition' }}
            </button>
            <span v-else-if="!itemsOf(rule.only_if).length" class="pt-1 text-muted">always</span>
          </div>
          <span class="lab sm:pt-2 sm:text-right">Branches</span>
          <div class="flex flex-wrap items-center gap-2">
            <SelectBox
              :model-value="rule.branching ?? 'first'"
              :options="setup.vocabulary.branching.map((one) => ({ value: one, words: branchingWords[one] ?? one }))"
              label="Which branches run"
              :disabled="fixed"
              @update:model-value="(branching) => change({ ...rule!, branching })"
            />
            <span class="text-muted">· {{ summary }}</span>
          </div>
        </div>
        <BranchTable
          :rule="rule"
          :kind="kind"
          :setup="setup"
          :row="row"
          :place="place"
          :broken="broken"
          :fixed="fixed"
          @go="go"
          @choose="(line) => (row = line)"
          @add-action="addAction"
        />
        <div v-if="!fixed" class="flex flex-wrap items-center gap-2">
          <button type="button" class="btn btn-quiet" aria-keyshortcuts="b" @click="addBranch">Add a branch</button>
          <button v-if="!rule.otherwise" type="button" class="btn btn-quiet" @click="addOtherwise">
            Add an otherwise
          </button>
          <span class="ml-auto hidden text-muted sm:inline"
            ><KeyCap>B</KeyCap> branch <KeyCap>A</KeyCap> action <KeyCap>T</KeyCap> try</span
          >
        </div>
        <div v-if="trying.plan.value?.tasks.some((task) => task.due)">
          <div class="lab mb-1">
            What it puts on the calendar for
            {{ trying.found.value?.rows.find((one) => one.id === trying.chosen.value)?.title }}
          </div>
          <DateStrip :plan="trying.plan.value" />
        </div>
      </div>

      <aside id="rule-side" class="side border-pine bg-paper min-[1000px]:border-l" aria-label="Beside the rule">
        <div class="flex border-b border-line px-[14px]" role="tablist">
          <button
            v-for="tab in tabs"
            :key="tab.what"
            type="button"
            role="tab"
            :aria-selected="place.what === tab.what"
            class="border-b-[3px] px-[10px] pt-[10px] pb-2 font-medium"
            :class="place.what === tab.what ? 'border-focus font-semibold' : 'border-transparent'"
            @click="go({ what: tab.what })"
          >
            {{ tab.words }} <span v-if="tab.count" class="flag bg-amber-bg text-amber">{{ tab.count }}</span>
          </button>
          <span
            v-if="['action', 'branch', 'only_if'].includes(place.what)"
            class="ml-auto self-center border-b-[3px] border-focus pt-[10px] pb-2 font-semibold"
          >
            {{ place.what === 'action' ? 'Action' : place.what === 'branch' ? `Branch ${row + 1}` : 'Only if' }}
          </span>
        </div>

        <template v-if="place.what === 'try'">
          <TryPanel
            v-if="mayWriteRules"
            :kind="kind"
            :found="trying.found.value"
            :plan="trying.plan.value"
            :wrong="trying.wrong.value"
            :chosen="trying.chosen.value"
            :show="trying.show.value"
            :busy="trying.busy.value"
            @choose="trying.choose"
            @show="(label) => (trying.show.value = label)"
            @more="trying.more"
          />
          <p v-else class="p-[14px] text-muted">Administrators can try a rule on live records here.</p>
        </template>

        <div v-else-if="place.what === 'checks'" class="p-[14px]">
          <p v-if="!trying.problems.value.length">Nothing stands between this rule and its publication.</p>
          <template v-else>
            <p class="mb-2">Before it can be published:</p>
            <ul>
              <li v-for="(problem, index) in trying.problems.value" :key="index" class="border-b border-line py-2">
                <button type="button" class="link font-semibold" @click="go(placeOf(problem, rule))">
                  {{ spokenPlace(problem) }}
                </button>
                <div>It {{ problem.text }}.</div>
              </li>
            </ul>
          </template>
        </div>

        <div v-else-if="place.what === 'history'" class="p-[14px]">
          <ul>
            <li
              v-for="version in kept?.versions"
              :key="version.number"
              class="flex justify-between gap-3 border-b border-line py-2"
            >
              <span
                ><b>Version {{ version.number }}</b> by {{ nameOf(version.by) }}</span
              ><span class="text-muted">{{ moment(version.at) }}</span>
            </li>
          </ul>
          <p class="mt-3 text-muted">A version never changes. Runs keep the version they ran under.</p>
        </div>

        <div v-else-if="place.what === 'only_if'" class="p-[14px]">
          <p class="mb-3 text-muted">Conditions common to all branches.</p>
          <GroupEditor
            :model-value="rule.only_if ?? { all: [] }"
            :references="references"
            @update:model-value="setOnlyIf"
          />
        </div>

        <div v-else-if="place.what === 'branch' && branchAt" class="p-[14px]">
          <p class="mb-3 text-muted">When does branch {{ row + 1 }} match?</p>
          <GroupEditor
            :model-value="branchAt.if ?? { all: [] }"
            :references="references"
            @update:model-value="(group: Group) => change(withBranch(rule!, row, { ...branchAt!, if: group }))"
          />
          <div class="mt-4 flex flex-wrap gap-2 border-t border-line pt-3">
            <button type="button" class="btn btn-quiet" :disabled="row === 0" @click="moveBranch(-1)">Move up</button>
            <button
              type="button"
              class="btn btn-quiet"
              :disabled="row === rule.branches.length - 1"
              @click="moveBranch(1)"
            >
              Move down
            </button>
            <button type="button" class="btn btn-quiet ml-auto" @click="removeBranch">Remove the branch</button>
          </div>
        </div>

        <div v-else-if="place.what === 'action' && actionAt" class="p-[14px]">
          <ActionEditor
            :key="`${place.row}-${place.index}`"
            :model-value="actionAt"
            :references="references"
            :kind="kind"
            :index="place.index"
            :wrong="wrongHere"
            @update:model-value="
              (action) =>
                place.what === 'action' &&
                change(
                  withActions(
                    rule!,
                    place.row,
                    actionsOf(rule!, place.row).map((one, index) =>
                      place.what === 'action' && index === place.index ? action : one,
                    ),
                  ),
                )
            "
          />
          <div class="mt-2 flex flex-wrap gap-2 border-t border-line pt-3">
            <button type="button" class="btn btn-quiet" :disabled="place.index === 0" @click="moveAction(-1)">
              Move up
            </button>
            <button
              type="button"
              class="btn btn-quiet"
              :disabled="place.index === actionsOf(rule, place.row).length - 1"
              @click="moveAction(1)"
            >
              Move down
            </button>
            <button type="button" class="btn btn-quiet ml-auto" @click="removeAction">Remove the action</button>
          </div>
        </div>
      </aside>
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
  </template>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSession } from '@/state/session'
import SideTabs from '@/parts/SideTabs.vue'
import type { Kind } from '@/state/setup'
import ActionEditor from './ActionEditor.vue'
import ChecksPanel from './ChecksPanel.vue'
import GroupEditor from './GroupEditor.vue'
import HistoryPanel from './HistoryPanel.vue'
import {
  actionsOf,
  itemsOf,
  withActions,
  withBranch,
  type Action,
  type Group,
  type Place,
  type Reference,
  type Rule,
} from './model'
import { wrongInAction } from './problems'
import TimersPanel from './TimersPanel.vue'
import TryPanel from './TryPanel.vue'
import type { useSheet } from './useSheet'
import type { useTrying } from './useTrying'

/** What stands beside the sheet: the try, the checks, the history, or what is chosen in the table. */
const props = defineProps<{
  rule: Rule
  kept: Schemas['Rule'] | null
  kind: Kind
  references: Reference[]
  place: Place
  row: number
  fixed: boolean
  trying: ReturnType<typeof useTrying>
  sheet: ReturnType<typeof useSheet>
}>()
const emit = defineEmits<{ go: [place: Place]; take: [rule: Rule] }>()
const { mayWriteRules } = useSession()

type TabKey = 'try' | 'checks' | 'timers' | 'history' | 'edit'
const tab = computed<TabKey>(() =>
  props.place.what === 'action' || props.place.what === 'branch' || props.place.what === 'only_if'
    ? 'edit'
    : props.place.what,
)
const edited = computed(() =>
  props.place.what === 'action' ? 'Action' : props.place.what === 'branch' ? `Branch ${props.row + 1}` : 'Only if',
)
const tabs = computed((): { key: TabKey; words: string; count?: number; open?: string; apart?: boolean }[] => [
  { key: 'try', words: 'Try' },
  {
    key: 'checks',
    words: 'Checks',
    count: props.trying.problems.value.length,
    open: props.trying.notes.value.length ? 'Gaps or overlaps' : '',
  },
  ...(props.kept?.versions.length && props.kept.timers ? [{ key: 'timers' as const, words: 'Ahead' }] : []),
  ...(props.kept?.versions.length ? [{ key: 'history' as const, words: 'History' }] : []),
  ...(tab.value === 'edit' ? [{ key: 'edit' as const, words: edited.value, apart: true }] : []),
])
const action = computed<Action | null>(() =>
  props.place.what === 'action' ? (actionsOf(props.rule, props.place.row)[props.place.index] ?? null) : null,
)
const branch = computed(() => (props.place.what === 'branch' ? (props.rule.branches[props.place.row] ?? null) : null))
const wrong = computed(() =>
  props.place.what === 'action'
    ? wrongInAction(props.trying.problems.value, props.rule, props.place.row, props.place.index)
    : {},
)
const count = computed(() =>
  props.place.what === 'action' ? actionsOf(props.rule, props.place.row).length : props.rule.branches.length,
)
const at = computed(() =>
  props.place.what === 'action' ? props.place.index : props.place.what === 'branch' ? props.place.row : 0,
)

function setOnlyIf(group: Group) {
  const { only_if: _gone, ...rest } = props.rule
  props.sheet.change(itemsOf(group).length ? { ...rest, only_if: group } : rest)
}
function setAction(next: Action) {
  if (props.place.what !== 'action') return
  const { row, index } = props.place
  const actions = actionsOf(props.rule, row).map((one, where) => (where === index ? next : one))
  props.sheet.change(withActions(props.rule, row, actions))
}
</script>

<template>
  <aside id="rule-side" class="side border-pine bg-paper min-[1000px]:border-l" aria-label="Beside the rule">
    <SideTabs :model-value="tab" :tabs="tabs" @update:model-value="(to) => to !== 'edit' && emit('go', { what: to })">
      <template v-if="place.what === 'try'">
        <TryPanel
          v-if="mayWriteRules"
          :filter="trying.filter.value"
          :change="trying.change.value"
          :kind="kind"
          :rule="rule"
          :found="trying.found.value"
          :plan="trying.plan.value"
          :wrong="trying.wrong.value"
          :chosen="trying.chosen.value"
          :chosen-title="trying.title.value"
          :show="trying.show.value"
          :busy="trying.busy.value"
          @update:filter="trying.setFilter"
          @update:change="trying.setChange"
          @choose="trying.choose"
          @show="trying.setShow"
          @more="trying.more"
        />
        <p v-else class="p-[14px] text-muted">Administrators can try a rule on live records here.</p>
      </template>
      <ChecksPanel
        v-else-if="place.what === 'checks'"
        :rule="rule"
        :problems="trying.problems.value"
        :notes="trying.notes.value"
        @go="(to) => emit('go', to)"
      />
      <TimersPanel v-else-if="place.what === 'timers' && kept" :kept="kept" :kind="kind" />
      <HistoryPanel
        v-else-if="place.what === 'history' && kept"
        :kept="kept"
        :fixed="fixed"
        @take="(old) => emit('take', old)"
      />
      <div v-else-if="place.what === 'only_if'" class="p-[14px]">
        <p class="mb-3 text-muted">Conditions common to all branches.</p>
        <GroupEditor
          :model-value="rule.only_if ?? { all: [] }"
          :references="references"
          :kind="kind"
          @update:model-value="setOnlyIf"
        />
      </div>
      <div v-else-if="branch || action" class="p-[14px]">
        <template v-if="branch">
          <p class="mb-3 text-muted">When does branch {{ row + 1 }} match?</p>
          <GroupEditor
            :model-value="branch.if ?? { all: [] }"
            :references="references"
            :kind="kind"
            @update:model-value="(group: Group) => sheet.change(withBranch(rule, row, { ...branch!, if: group }))"
          />
        </template>
        <div v-else-if="place.what === 'action'" data-first>
          <ActionEditor
            :key="`${place.row}-${place.index}`"
            :model-value="action!"
            :references="references"
            :kind="kind"
            :index="place.index"
            :earlier="actionsOf(rule, place.row).slice(0, place.index)"
            :before-save="rule.run === 'before_save'"
            :wrong="wrong"
            @update:model-value="setAction"
          />
        </div>
        <div class="mt-4 flex flex-wrap gap-2 border-t border-line pt-3">
          <button type="button" class="btn btn-quiet" :disabled="at === 0" title="Alt ↑" @click="sheet.moveBy(-1)">
            Move up
          </button>
          <button
            type="button"
            class="btn btn-quiet"
            :disabled="at >= count - 1"
            title="Alt ↓"
            @click="sheet.moveBy(1)"
          >
            Move down
          </button>
          <button type="button" class="btn btn-quiet" title="Ctrl C" @click="sheet.copy">Copy</button>
          <button type="button" class="btn btn-quiet ml-auto" title="Del" @click="sheet.remove">
            Remove the {{ place.what }}
          </button>
        </div>
      </div>
    </SideTabs>
  </aside>
</template>

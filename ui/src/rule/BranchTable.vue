<script setup lang="ts">
import { computed } from 'vue'
import type { Kind, Setup } from '@/state/setup'
import {
  actionsOf,
  columnsOf,
  isGroup,
  itemsOf,
  modeOf,
  outsideColumns,
  useRuleWords,
  type Branch,
  type Place,
  type Rule,
} from './model'
import TitleWords from './TitleWords.vue'

/** The rule as its table: conditions left in columns by field, a double rule, actions right. */
const props = defineProps<{
  rule: Rule
  kind: Kind
  setup: Setup
  row: number
  place: Place
  broken: (row: number) => boolean
  fixed?: boolean
}>()
const emit = defineEmits<{ go: [place: Place]; choose: [row: number]; addAction: [row: number] }>()

const words = computed(() => useRuleWords(props.setup, props.kind))
const columns = computed(() => columnsOf(props.rule))
const nested = computed(() => props.rule.branches.some((branch) => outsideColumns(branch)))
const rows = computed(() => [
  ...props.rule.branches.keys(),
  ...(props.rule.otherwise ? [props.rule.branches.length] : []),
])
const span = computed(() => Math.max(1, columns.value.length + (nested.value ? 1 : 0)))

function cell(branch: Branch, path: string): string {
  if (outsideColumns(branch) === branch.if) return ''
  const found = itemsOf(branch.if).filter((item) => !isGroup(item) && item.field === path)
  return found
    .map((item) => words.value.phrase(item).replace(/^is (?=at |one |none |between |more|less)/, ''))
    .join(' and ')
}
const outside = (branch: Branch) => {
  const group = outsideColumns(branch)
  if (!group) return ''
  const all = itemsOf(group).map(words.value.sentence).join('; ')
  return modeOf(group) === 'all' ? all : `${modeOf(group)} of: ${all || 'nothing yet'}`
}
const isAction = (row: number, index: number) =>
  props.place.what === 'action' && props.place.row === row && props.place.index === index
</script>

<template>
  <div class="overflow-x-auto border border-pine bg-paper">
    <table class="w-full border-collapse">
      <thead>
        <tr
          class="lab [&>th]:border-b [&>th]:border-pine [&>th]:bg-band-2 [&>th]:px-[10px] [&>th]:py-[6px] [&>th]:text-left"
        >
          <th class="w-[34px]"><span class="sr-only">Branch</span></th>
          <th v-for="path in columns" :key="path" class="min-w-[98px]">{{ words.label(path) }}</th>
          <th v-if="nested">Conditions</th>
          <th v-if="!columns.length && !nested">When</th>
          <th class="border-l-4 border-double border-l-pine">Actions, in order</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="line in rows"
          :key="line"
          class="[&:not(:last-child)>td]:border-b [&>td]:border-line [&>td]:px-[10px] [&>td]:py-2 [&>td]:align-top"
          :class="row === line ? '[&>td]:bg-[#f2f8f4]' : ''"
          :data-row="line"
          @click="emit('choose', line)"
        >
          <td class="!px-0 text-center font-mono font-bold" :class="row === line ? '!bg-pine text-white' : ''">
            <button
              type="button"
              class="w-full"
              :aria-label="line === rule.branches.length ? 'Otherwise' : `Branch ${line + 1}`"
              @click="emit('go', { what: 'branch', row: line })"
            >
              {{ line === rule.branches.length ? '○' : line + 1 }}
            </button>
            <span v-if="broken(line)" class="block text-red" title="Something is wrong here">!</span>
          </td>
          <template v-if="line < rule.branches.length">
            <td v-for="path in columns" :key="path" class="border-l border-l-line">
              <button
                type="button"
                class="text-left hover:underline"
                :class="cell(rule.branches[line]!, path) ? '' : 'text-muted'"
                @click="emit('go', { what: 'branch', row: line })"
              >
                {{ cell(rule.branches[line]!, path) || 'any' }}
              </button>
            </td>
            <td v-if="nested" class="border-l border-l-line">
              <button
                type="button"
                class="text-left hover:underline"
                @click="emit('go', { what: 'branch', row: line })"
              >
                {{ outside(rule.branches[line]!) }}
              </button>
            </td>
            <td v-if="!columns.length && !nested">
              <button
                type="button"
                class="text-left text-muted hover:underline"
                @click="emit('go', { what: 'branch', row: line })"
              >
                always
              </button>
            </td>
          </template>
          <td v-else :colspan="span" class="text-muted">Otherwise</td>
          <td class="border-l-4 border-double !border-l-pine">
            <button
              v-for="(action, index) in actionsOf(rule, line)"
              :key="index"
              type="button"
              class="grid w-full grid-cols-[44px_1fr] items-baseline gap-x-2 py-[2px] text-left sm:grid-cols-[44px_1fr_auto]"
              :class="isAction(line, index) ? 'outline-2 outline-offset-1 outline-pine' : 'hover:bg-band'"
              @click.stop="(emit('choose', line), emit('go', { what: 'action', row: line, index }))"
            >
              <span class="text-xs font-semibold tracking-wide text-pine [font-stretch:82%]">TASK</span>
              <span class="min-w-0 break-words" :class="action.under ? 'pl-4' : ''"
                ><TitleWords :text="action.title" :label="words.blank"
              /></span>
              <span class="col-start-2 text-muted sm:col-start-3 sm:text-right"
                >{{ words.assign(action.assign) }} · {{ words.date(action.due) }}</span
              >
            </button>
            <button
              v-if="!fixed && row === line"
              type="button"
              class="link mt-1 text-sm"
              @click.stop="emit('addAction', line)"
            >
              Add an action
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

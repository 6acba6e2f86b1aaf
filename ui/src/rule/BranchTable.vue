<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Kind, Setup } from '@/state/setup'
import CellEditor from './CellEditor.vue'
import FieldPicker from './FieldPicker.vue'
import {
  actionsOf,
  cellItems,
  columnsOf,
  itemsOf,
  modeOf,
  outsideColumns,
  useRuleWords,
  withBranch,
  withCell,
  type Branch,
  type Item,
  type Place,
  type Reference,
  type Rule,
} from './model'
import TitleWords from './TitleWords.vue'

/**
 * The rule as its table: conditions left in columns by field, edited where they stand; a double rule; actions right.
 * Rows and actions are moved by dragging them, or with Alt and an arrow.
 */
const props = defineProps<{
  rule: Rule
  kind: Kind
  setup: Setup
  references: Reference[]
  row: number
  place: Place
  broken: (row: number) => boolean
  noted: (row: number) => string | null
  fixed?: boolean
}>()
const emit = defineEmits<{
  go: [place: Place]
  choose: [row: number]
  change: [rule: Rule]
  addAction: [row: number]
  carryBranch: [from: number, to: number]
  carryAction: [from: { row: number; index: number }, to: { row: number; index: number }]
}>()

const words = computed(() => useRuleWords(props.setup, props.kind))
// Columns that somebody has added but that no branch asks about yet.
const added = ref<string[]>([])
const columns = computed(() => [...new Set([...columnsOf(props.rule), ...added.value])])
const adding = ref(false)
const nested = computed(() => props.rule.branches.some((branch) => outsideColumns(branch)))
const rows = computed(() => [
  ...props.rule.branches.keys(),
  ...(props.rule.otherwise ? [props.rule.branches.length] : []),
])
const span = computed(() => Math.max(1, columns.value.length + (nested.value ? 1 : 0)) + (props.fixed ? 0 : 1))
const table = useTemplateRef<HTMLTableElement>('table')

function cell(branch: Branch, path: string): string {
  return cellItems(branch, path)
    .map((item) => words.value.phrase(item).replace(/^is (?=at |one |none |between |more|less|within)/, ''))
    .join(' and ')
}
const outside = (branch: Branch) => {
  const group = outsideColumns(branch)
  if (!group) return ''
  const all = itemsOf(group).map(words.value.sentence).join('; ')
  return modeOf(group) === 'all' ? all : `${modeOf(group)} of: ${all || 'nothing yet'}`
}
const flat = (branch: Branch) => modeOf(branch.if) === 'all'
const isAction = (row: number, index: number) =>
  props.place.what === 'action' && props.place.row === row && props.place.index === index

// The cell that is being edited.
const open = ref<string | null>(null)
const name = (line: number, path: string) => `${line} ${path}`
function edit(line: number, path: string) {
  if (props.fixed) return
  emit('choose', line)
  open.value = name(line, path)
}
async function close(line: number, path: string) {
  open.value = null
  await nextTick()
  table.value?.querySelector<HTMLElement>(`[data-cell="${CSS.escape(name(line, path))}"]`)?.focus()
}
const put = (line: number, path: string, items: Item[]) =>
  emit('change', withBranch(props.rule, line, withCell(props.rule.branches[line]!, path, items)))

async function addColumn(path: string | undefined) {
  if (!path) return
  adding.value = false
  if (!columns.value.includes(path)) added.value = [...added.value, path]
  await nextTick()
  const line = Math.min(props.row, props.rule.branches.length - 1)
  if (line >= 0 && flat(props.rule.branches[line]!)) edit(line, path)
}

/** Arrows go from cell to cell and from action to action. */
function walk(event: KeyboardEvent) {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  }
  const step = steps[event.key]
  const here = event.target as HTMLElement
  if (!step || event.altKey || event.ctrlKey || event.metaKey || !here.matches('[data-stop]')) return
  const lines = [...table.value!.querySelectorAll('tr[data-row]')].map((line) => [
    ...line.querySelectorAll<HTMLElement>('[data-stop]'),
  ])
  const row = lines.findIndex((line) => line.includes(here))
  const at = lines[row]!.indexOf(here)
  const stops = step[0] ? lines[row + step[0]] : lines[row]
  const to = stops?.[step[0] ? Math.min(at, stops.length - 1) : at + step[1]]
  if (!to) return
  event.preventDefault()
  to.focus()
}

// What is being dragged, and before what it would be put.
type Dragged = { what: 'branch'; row: number } | { what: 'action'; row: number; index: number }
const dragged = ref<Dragged | null>(null)
const over = ref<string | null>(null)
function drag(event: DragEvent, what: Dragged) {
  if (props.fixed) return event.preventDefault()
  dragged.value = what
  event.dataTransfer?.setData('text/plain', '')
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
}
function hover(event: DragEvent, row: number, index?: number) {
  if (!dragged.value || (dragged.value.what === 'branch' && row >= props.rule.branches.length)) return
  event.preventDefault()
  over.value = dragged.value.what === 'branch' ? `b${row}` : `a${row}-${index ?? actionsOf(props.rule, row).length}`
}
function drop(event: DragEvent, row: number, index?: number) {
  const what = dragged.value
  dragged.value = null
  over.value = null
  if (!what) return
  event.preventDefault()
  event.stopPropagation()
  if (what.what === 'branch') {
    if (row < props.rule.branches.length) emit('carryBranch', what.row, what.row < row ? row + 1 : row)
  } else
    emit(
      'carryAction',
      { row: what.row, index: what.index },
      { row, index: index ?? actionsOf(props.rule, row).length },
    )
}
const settle = () => {
  dragged.value = null
  over.value = null
}
</script>

<template>
  <div class="overflow-x-auto border border-pine bg-paper">
    <table ref="table" class="w-full border-collapse" @keydown="walk">
      <thead>
        <tr class="lab branch-head">
          <th class="w-[34px]"><span class="sr-only">Branch</span></th>
          <th v-for="path in columns" :key="path" class="min-w-[98px]">{{ words.label(path) }}</th>
          <th v-if="nested">Conditions</th>
          <th v-if="!columns.length && !nested">When</th>
          <th v-if="!fixed" class="w-[24px] !px-1">
            <button
              v-if="!adding"
              type="button"
              class="link text-base leading-none font-bold"
              aria-label="Ask about another field"
              title="Ask about another field"
              aria-keyshortcuts="c"
              data-test="add-column"
              @click="adding = true"
            >
              +
            </button>
            <div v-else class="w-52 font-normal" @keydown.esc="adding = false">
              <FieldPicker
                :model-value="undefined"
                :references="references"
                label="Field of the new column"
                formulas
                @update:model-value="addColumn"
              />
            </div>
          </th>
          <th class="border-l-4 border-double border-l-pine">Actions, in order</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="line in rows"
          :key="line"
          class="[&:not(:last-child)>td]:border-b [&>td]:border-line [&>td]:px-[10px] [&>td]:py-2 [&>td]:align-top"
          :class="[
            row === line ? '[&>td]:bg-near' : '',
            over === `b${line}` ? '[&>td]:!border-t-2 [&>td]:!border-t-focus' : '',
          ]"
          :data-row="line"
          @click="emit('choose', line)"
          @dragover="hover($event, line)"
          @drop="drop($event, line)"
        >
          <td class="!px-0 text-center font-mono font-bold" :class="row === line ? '!bg-pine text-white' : ''">
            <button
              type="button"
              class="w-full"
              :class="!fixed && line < rule.branches.length ? 'cursor-grab' : ''"
              :aria-label="line === rule.branches.length ? 'Otherwise' : `Branch ${line + 1}`"
              :draggable="!fixed && line < rule.branches.length"
              data-stop
              @dragstart="drag($event, { what: 'branch', row: line })"
              @dragend="settle"
              @click="emit('go', { what: 'branch', row: line })"
            >
              {{ line === rule.branches.length ? '○' : line + 1 }}
            </button>
            <span v-if="broken(line)" class="block text-red" title="Something is wrong here">!</span>
            <span v-else-if="noted(line)" class="block text-amber" :title="noted(line)!">◇</span>
          </td>
          <template v-if="line < rule.branches.length">
            <td v-for="path in columns" :key="path" class="border-l border-l-line">
              <CellEditor
                v-if="open === name(line, path)"
                :model-value="cellItems(rule.branches[line]!, path)"
                :path="path"
                :references="references"
                :kind="kind"
                @update:model-value="(items) => put(line, path, items)"
                @close="close(line, path)"
              />
              <span v-else-if="!flat(rule.branches[line]!)" class="text-muted">see conditions</span>
              <button
                v-else
                type="button"
                class="min-h-6 w-full text-left"
                :class="[
                  cell(rule.branches[line]!, path) ? '' : 'text-muted',
                  fixed ? 'cursor-default' : 'hover:underline',
                ]"
                :data-cell="name(line, path)"
                data-stop
                :aria-label="`${words.label(path)}, branch ${line + 1}: ${cell(rule.branches[line]!, path) || 'any'}`"
                @click.stop="edit(line, path)"
              >
                {{ cell(rule.branches[line]!, path) || 'any' }}
              </button>
            </td>
            <td v-if="nested" class="border-l border-l-line">
              <button
                type="button"
                class="text-left hover:underline"
                data-stop
                @click="emit('go', { what: 'branch', row: line })"
              >
                {{ outside(rule.branches[line]!) }}
              </button>
            </td>
            <td v-if="!columns.length && !nested">
              <button
                type="button"
                class="text-left text-muted hover:underline"
                data-stop
                @click="emit('go', { what: 'branch', row: line })"
              >
                always
              </button>
            </td>
            <td v-if="!fixed" />
          </template>
          <td v-else :colspan="span" class="text-muted">Otherwise</td>
          <td
            class="border-l-4 border-double !border-l-pine"
            @dragover.stop="hover($event, line)"
            @drop.stop="drop($event, line)"
          >
            <button
              v-for="(action, index) in actionsOf(rule, line)"
              :key="index"
              type="button"
              class="does grid min-h-6 w-full items-baseline gap-x-2 py-[2px] text-left"
              :class="[
                isAction(line, index) ? 'outline-2 outline-offset-1 outline-pine' : 'hover:bg-band',
                over === `a${line}-${index}` ? 'border-t-2 border-focus' : '',
              ]"
              :draggable="!fixed"
              data-stop
              @dragstart.stop="drag($event, { what: 'action', row: line, index })"
              @dragend="settle"
              @dragover.stop="hover($event, line, index)"
              @drop.stop="drop($event, line, index)"
              @click.stop="(emit('choose', line), emit('go', { what: 'action', row: line, index }))"
            >
              <span class="text-xs font-semibold tracking-wide text-pine [font-stretch:82%]">{{
                words.action(action).tag
              }}</span>
              <span class="min-w-0 break-words" :class="action.under ? 'pl-4' : ''"
                ><TitleWords :text="words.action(action).text" :label="words.blank"
              /></span>
              <span class="col-start-2 text-muted sm:col-start-3 sm:text-right">{{ words.action(action).right }}</span>
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

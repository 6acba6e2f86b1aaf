<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { counted } from '@/lib/words'
import TitleWords from '@/rule/TitleWords.vue'
import { useRuleWords } from '@/rule/model'
import { useSetup, type Kind } from '@/state/setup'
import {
  carriedTo,
  comesWords,
  dueWords,
  freeKey,
  movedBy,
  numberOf,
  partsOf,
  readLines,
  tasksOf,
  withAdded,
  without,
  type Kit,
  type KitTask,
} from './model'

/** The table of a kit: phases with their tasks in order. Rows are moved by drag and by Alt and an arrow. */
const props = defineProps<{
  kind: Kind
  chosen: string | null
  broken: Set<string>
  noted: Set<string>
  fixed: boolean
}>()
const kit = defineModel<Kit>({ required: true })
const emit = defineEmits<{ choose: [key: string | null, enter?: boolean] }>()
const { setup } = useSetup()
const words = computed(() => useRuleWords(setup.value, props.kind))

const typed = ref<Record<number, string>>({})
function add(phase: number) {
  const title = (typed.value[phase] ?? '').trim()
  if (!title) return
  const key = freeKey(
    title,
    tasksOf(kit.value).map((task) => task.key),
  )
  const first = setup.value.queues[0]
  const task: KitTask = { key, title, ...(first ? { assign: { to: 'queue', queue: first.key } } : {}) }
  kit.value = withAdded(kit.value, phase, [task])
  typed.value = { ...typed.value, [phase]: '' }
}
function pasted(phase: number, event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text') ?? ''
  if (!/[\r\n]/.test(text.trim())) return
  event.preventDefault()
  kit.value = withAdded(kit.value, phase, readLines(text, kit.value, setup.value, props.kind))
}

const lookAt = async (key: string | undefined) => {
  if (!key) return
  emit('choose', key)
  await nextTick()
  document.getElementById(`kit-row-${key}`)?.focus()
}
function keys(task: KitTask, event: KeyboardEvent) {
  const all = tasksOf(kit.value).map((one) => one.key)
  const at = all.indexOf(task.key)
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  if (step && event.altKey && !props.fixed) {
    kit.value = movedBy(kit.value, task.key, step)
    void lookAt(task.key)
  } else if (step) void lookAt(all[at + step])
  else if (event.key === 'Delete' && !props.fixed) {
    kit.value = without(kit.value, task.key)
    void lookAt(all[at + 1] ?? all[at - 1])
  } else if (event.key === 'Enter') emit('choose', task.key, true)
  else return
  event.preventDefault()
}

// One row is a stop for Tab; from there the arrows go on, so that Tab reaches what stands beside the table.
const stop = computed(() => (numberOf(kit.value, props.chosen ?? '') ? props.chosen : tasksOf(kit.value)[0]?.key))
const carried = ref<string | null>(null)
const over = ref<string | null>(null)
function drop(phase: number, index: number) {
  if (carried.value) kit.value = carriedTo(kit.value, carried.value, { phase, index })
  carried.value = over.value = null
}
const rename = (index: number, name: string) =>
  (kit.value = {
    ...kit.value,
    phases: kit.value.phases.map((phase, place) => (place === index ? { ...phase, name } : phase)),
  })
function removePhase(index: number) {
  const phases = kit.value.phases.filter((_, place) => place !== index)
  const rest = kit.value.phases[index]!.tasks
  const into = Math.max(0, index - 1)
  kit.value = {
    ...kit.value,
    phases: phases.map((phase, place) => (place === into ? { ...phase, tasks: [...phase.tasks, ...rest] } : phase)),
  }
}
const opens = (task: KitTask) =>
  task.opens
    ? [
        `opens a ${setup.value.kinds.find((one) => one.key === task.opens!.kind)?.label.toLowerCase() ?? 'record'}`,
        task.opens.kit && `with ${setup.value.kits.find((one) => one.key === task.opens!.kit)?.name ?? task.opens.kit}`,
      ]
        .filter(Boolean)
        .join(' ')
    : ''
</script>

<template>
  <div class="min-w-0 overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th class="w-[38px] border-r border-r-line !text-right">#</th>
          <th>Task</th>
          <th>Who</th>
          <th>Comes</th>
          <th class="!text-right">Due</th>
        </tr>
      </thead>
      <tbody
        v-for="(phase, p) in kit.phases"
        :key="p"
        class="border-t border-pine"
        @dragover.prevent
        @drop="drop(p, phase.tasks.length)"
      >
        <tr class="ledger-group">
          <td colspan="5" class="!border-b !border-pine !bg-paper">
            <span class="flex items-center gap-2">
              <b v-if="fixed">{{ phase.name || 'Tasks' }}</b>
              <input
                v-else
                :value="phase.name"
                class="in-place min-w-0 flex-1 font-semibold"
                :aria-label="`Name of phase ${p + 1}`"
                placeholder="Name of the phase"
                maxlength="120"
                @input="rename(p, ($event.target as HTMLInputElement).value)"
              />
              <button
                v-if="!fixed && kit.phases.length > 1"
                type="button"
                class="link text-sm"
                :aria-label="`Join phase ${p + 1} with the one ${p ? 'before' : 'after'} it`"
                @click="removePhase(p)"
              >
                Join with the one {{ p ? 'before' : 'after' }}
              </button>
            </span>
          </td>
        </tr>
        <tr
          v-for="(task, t) in phase.tasks"
          :id="`kit-row-${task.key}`"
          :key="task.key"
          :tabindex="task.key === stop ? 0 : -1"
          :data-chosen="task.key === chosen"
          :draggable="!fixed"
          class="cursor-pointer"
          :class="over === task.key ? '[&>td]:!border-t-focus' : ''"
          :aria-label="`Task ${numberOf(kit, task.key)}: ${task.title}`"
          @click="emit('choose', task.key)"
          @focus="emit('choose', task.key)"
          @keydown="keys(task, $event)"
          @dragstart="carried = task.key"
          @dragend="carried = over = null"
          @dragover.prevent="over = task.key"
          @drop.stop.prevent="drop(p, t)"
        >
          <td class="border-r border-r-line text-right font-mono text-xs text-muted">{{ numberOf(kit, task.key) }}</td>
          <td class="min-w-56 break-words" :class="{ '!pl-6': task.under }">
            <span v-if="task.under" class="mr-1 text-muted" aria-hidden="true">└</span
            ><b :class="task.under ? 'font-normal' : 'font-semibold'"
              ><TitleWords :text="task.title" :label="words.blank"
            /></b>
            <span v-if="partsOf(kit, task.key).length" class="flag ml-1 bg-band-2">{{
              counted(partsOf(kit, task.key).length, 'part')
            }}</span>
            <span v-if="task.answers?.length" class="flag ml-1 bg-band-2 !whitespace-normal"
              >asks: {{ task.answers.join(' · ') }}</span
            >
            <span v-if="task.paper" class="flag ml-1 bg-band-2"
              >paper: {{ task.paper.name.replace(/\{\{.*?\}\}/g, '…') || 'without a name' }}</span
            >
            <span v-if="task.opens" class="ml-1 text-muted">{{ opens(task) }}</span>
            <span v-if="broken.has(task.key)" class="flag ml-1 bg-red-bg text-red">to mend</span>
            <span v-else-if="noted.has(task.key)" class="flag ml-1 bg-amber-bg text-amber">see checks</span>
          </td>
          <td class="break-words">{{ words.assign(task.assign) }}</td>
          <td class="text-sm break-words text-muted">{{ comesWords(kit, task) }}</td>
          <td class="text-right whitespace-nowrap">{{ dueWords(kit, task, kind) }}</td>
        </tr>
        <tr v-if="!fixed">
          <td class="border-r border-r-line" />
          <td colspan="4" class="!py-1">
            <input
              :value="typed[p] ?? ''"
              class="w-full rounded-xs border border-transparent px-1 py-[3px] hover:border-line focus:border-line"
              :aria-label="`A task for phase ${p + 1}`"
              placeholder="Type a task, or paste one a line"
              @input="typed = { ...typed, [p]: ($event.target as HTMLInputElement).value }"
              @keydown.enter.prevent="add(p)"
              @paste="pasted(p, $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

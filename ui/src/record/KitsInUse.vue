<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import SelectBox from '@/parts/SelectBox.vue'
import TaskMark from '@/parts/TaskMark.vue'
import { useSetup, type Kind } from '@/state/setup'

/** The kits in use on a record: where each stands, and skipping a task, stopping, moving to the newest version. */
const props = defineProps<{ recordId: number; kind: Kind }>()
const emit = defineEmits<{ changed: [] }>()
const { setup, nameOf, queueName } = useSetup()
const { day } = useDates()
const { attempt } = useNotices()
const { data, reload } = useLoaded(
  () => answerOf(api.GET('/api/copies', { params: { query: { record: props.recordId } } })),
  [() => props.recordId],
)
useLive((news) => (news === null || news.records.includes(props.recordId) || news.tasks.length) && reload())

const open = ref<number | null>(null)
const older = ref<Schemas['Copy'][]>([])
watch(data, () => (older.value = []))
const copies = computed(() => [...(data.value?.copies ?? []), ...older.value])
async function showEarlier() {
  const query = { record: props.recordId, before: copies.value.at(-1)!.id }
  await attempt(async () => {
    older.value.push(...(await answerOf(api.GET('/api/copies', { params: { query } }))).copies)
  })
}
const kits = computed(() =>
  setup.value.kits.filter((kit) => kit.kind === props.kind.key).map((kit) => ({ value: kit.id, words: kit.name })),
)
async function settle(act: () => Promise<unknown>, words: string) {
  if (!(await attempt(act, words))) return
  await reload()
  emit('changed')
}
const use = (kit: number | null) =>
  kit &&
  settle(
    () => answerOf(api.POST('/api/copies', { body: { kit_id: kit, record_id: props.recordId } })),
    'The kit is in use here now.',
  )
const skip = (copy: Schemas['Copy'], task: Schemas['CopyTask']) =>
  settle(
    () => answerOf(api.POST('/api/copies/{id}/skip', { params: { path: { id: copy.id } }, body: { task: task.key } })),
    `Skipped: ${task.title}`,
  )
const stopping = ref<Schemas['Copy'] | null>(null)
async function stop() {
  const path = { id: stopping.value!.id }
  await settle(() => answerOf(api.POST('/api/copies/{id}/stop', { params: { path } })), 'The kit is stopped here.')
  stopping.value = null
}
const moving = ref<{
  copy: Schemas['Copy']
  preview: { stay: string[]; go: string[]; come: string[]; dated: string[] }
} | null>(null)
async function askMove(copy: Schemas['Copy']) {
  const path = { id: copy.id, version: copy.newest! }
  await attempt(async () => {
    moving.value = { copy, preview: await answerOf(api.GET('/api/copies/{id}/move/{version}', { params: { path } })) }
  })
}
async function move() {
  const { copy } = moving.value!
  const body = { version: copy.newest! }
  await settle(
    () => answerOf(api.POST('/api/copies/{id}/move', { params: { path: { id: copy.id } }, body })),
    `It goes on by version ${copy.newest}.`,
  )
  moving.value = null
}
const MARKS: Record<string, string> = { over: '✓', open: '○', due: '○', waiting: '·', not_needed: '–' }
const PREVIEW = [
  { key: 'go' as const, words: 'Open tasks that are dropped' },
  { key: 'come' as const, words: 'Tasks that come at once' },
  { key: 'dated' as const, words: 'Open tasks with another due date' },
  { key: 'stay' as const, words: 'Open tasks that stay' },
]
function said(task: Schemas['CopyTask']) {
  if (task.skipped) return 'skipped'
  if (task.state === 'not_needed') return 'not needed'
  if (!task.task) return task.comes
  if (task.task.state === 'dropped') return 'dropped'
  if (task.state === 'over') return task.task.answer ?? 'done'
  const who = task.task.assignee ? nameOf(task.task.assignee) : `queue ${queueName(task.task.queue)}`
  return [who, task.task.due_on && day(task.task.due_on), task.task.redated && 'dated by hand']
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <section v-if="copies.length || kits.length" class="mt-5" aria-label="Kits in use">
    <h3 class="mb-1">Kits</h3>
    <SelectBox
      v-if="kits.length"
      :model-value="null"
      :options="kits"
      label="Use a kit"
      blank="Use a kit"
      class="mb-2"
      @update:model-value="use"
    />
    <div v-for="copy in copies" :key="copy.id" class="border-b border-line py-[5px]">
      <div class="flex items-baseline justify-between gap-2">
        <button
          type="button"
          class="text-left hover:underline"
          :data-copy="copy.id"
          :aria-expanded="open === copy.id"
          @click="open = open === copy.id ? null : copy.id"
        >
          <TaskMark v-if="copy.kit.mark" :mark="copy.kit.mark" class="mr-1" /><b class="font-semibold">{{
            copy.kit.name
          }}</b>
        </button>
        <span class="text-muted">{{
          copy.state === 'running'
            ? `${copy.done} of ${copy.all} done`
            : copy.state === 'done'
              ? 'finished'
              : copy.state === 'resting'
                ? 'rests'
                : 'stopped'
        }}</span>
      </div>
      <p v-if="copy.trouble" class="text-red">{{ copy.trouble }}</p>
      <template v-if="open === copy.id">
        <ol class="my-1">
          <li
            v-for="task in copy.tasks"
            :key="task.key"
            class="group grid grid-cols-[34px_1fr_auto] gap-1 py-[2px] data-[state=not_needed]:text-muted"
            :data-state="task.state"
          >
            <span class="font-mono text-xs text-muted">{{ task.number }} {{ MARKS[task.state] }}</span>
            <span
              class="min-w-0 break-words group-data-[state=not_needed]:line-through"
              :class="{ 'pl-3': task.under }"
            >
              <RouterLink v-if="task.task" :to="{ path: '/worklist', query: { who: 'all', task: task.task.id } }">{{
                task.title
              }}</RouterLink><template v-else>{{ task.title }}</template>
              <span class="block text-sm text-muted no-underline"
                >{{ said(task)
                }}<template v-if="task.parts?.all"
                  >{{ said(task) ? ' · ' : '' }}{{ task.parts.done }} of
                  {{ counted(task.parts.all, 'part') }} done</template
                ></span
              >
            </span>
            <button
              v-if="copy.state === 'running' && copy.may_change && ['open', 'waiting'].includes(task.state)"
              type="button"
              class="link self-start text-sm"
              :aria-label="`Skip ${task.title}`"
              @click="skip(copy, task)"
            >
              Skip
            </button>
          </li>
        </ol>
        <p class="text-sm text-muted">
          Version {{ copy.version }}, begun by {{ nameOf(copy.begun_by) }}, {{ day(copy.begun_at.slice(0, 10)) }}
        </p>
        <div v-if="copy.state === 'running' && copy.may_change" class="mt-1 flex gap-3">
          <button v-if="copy.newest && copy.newest !== copy.version" type="button" class="link" @click="askMove(copy)">
            Move to version {{ copy.newest }}
          </button>
          <button type="button" class="link" @click="stopping = copy">Stop it here</button>
        </div>
      </template>
    </div>
    <button v-if="copies.length < (data?.count ?? 0)" type="button" class="btn mt-2" @click="showEarlier">
      Show earlier ones, of {{ data!.count }} in all
    </button>
    <DialogBox :open="stopping !== null" :title="`Stop ${stopping?.kit.name ?? ''} here?`" @close="stopping = null">
      <p class="mb-4">Its open tasks are dropped, and no more come. What is done stays.</p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="stop">Stop it</button>
        <button type="button" class="btn" @click="stopping = null">Let it go on</button>
      </div>
    </DialogBox>
    <DialogBox :open="moving !== null" :title="`Go on by version ${moving?.copy.newest ?? ''}?`" @close="moving = null">
      <template v-if="moving">
        <template v-for="part in PREVIEW" :key="part.key">
          <template v-if="moving.preview[part.key].length">
            <h3>{{ part.words }}</h3>
            <ul class="mb-2 list-inside list-disc">
              <li v-for="line in moving.preview[part.key]" :key="line">{{ line }}</li>
            </ul>
          </template>
        </template>
        <div class="mt-3 flex gap-2">
          <button type="button" class="btn btn-go" @click="move">Move it</button>
          <button type="button" class="btn" @click="moving = null">Keep its version</button>
        </div>
      </template>
    </DialogBox>
  </section>
</template>

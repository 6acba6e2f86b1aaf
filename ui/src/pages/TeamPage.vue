<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import AbsenceRows from '@/parts/AbsenceRows.vue'
import PageHead from '@/parts/PageHead.vue'
import TableLink from '@/parts/TableLink.vue'
import AssigneePicker from '@/parts/AssigneePicker.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { loadSetup, useSetup } from '@/state/setup'
import type { To } from '@/worklist/useTaskSteps'

/** The lead's view: who has how much to do, what was done and how soon, who is away, and passing on all of a person. */
const { setup, nameOf, queueName } = useSetup()
const { day } = useDates()
const { say, attempt } = useNotices()
type By = 'person' | 'team' | 'queue' | 'rule'
const by = ref<By>('person')
const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/team', { params: { query: { by: by.value } } })),
  [by],
)
const awayOf = (key: string) => data.value?.away.find((one) => one.person === key)
const place = (key: string) =>
  by.value === 'person'
    ? { path: '/worklist', query: { who: key } }
    : by.value === 'queue'
      ? { path: '/worklist', query: { who: `q:${key}` } }
      : by.value === 'rule'
        ? { path: '/worklist', query: { who: 'all', from: `rule:${key}` } }
        : { path: '/worklist', query: { who: 'all', group: 'person' } }

const person = ref<string | null>(null)
const to = ref<To>({ assignee: null, queue: null })
const preview = ref<Schemas['Task'][] | null>(null)
const wrong = ref('')
const ready = computed(() => !!(to.value.assignee || to.value.queue || to.value.team))
function ask(key: string) {
  person.value = key
  to.value = { assignee: null, queue: null }
  preview.value = null
  wrong.value = ''
}
const told = (problem: unknown) =>
  (problem instanceof ApiError && Object.values(problem.refusal.fields ?? {})[0]) || sentenceOf(problem)
watch(to, async () => {
  preview.value = null
  if (!person.value || !ready.value) return
  try {
    const body = { person: person.value, to: to.value }
    preview.value = (await answerOf(api.POST('/api/team/preview', { body }))).tasks
    wrong.value = ''
  } catch (problem) {
    wrong.value = told(problem)
  }
})
async function passAll() {
  try {
    const body = { person: person.value!, to: to.value }
    const found = await answerOf(api.POST('/api/team/pass-all', { body }))
    say(`Passed on ${counted(found.tasks.length, 'task')} of ${nameOf(person.value)}.`)
    person.value = null
    await reload()
  } catch (problem) {
    wrong.value = told(problem)
  }
}
const awayFor = ref<string | null>(null)
const absences = ref<Schemas['Absence'][]>([])
const awayWrong = ref('')
async function askAway(key: string) {
  const params = { query: { person: key } }
  await attempt(async () => (absences.value = (await answerOf(api.GET('/api/team/absences', { params }))).absences))
  awayWrong.value = ''
  awayFor.value = key
}
async function saveAway() {
  try {
    await answerOf(api.PUT('/api/team/absences', { body: { person: awayFor.value!, absences: absences.value } }))
    awayFor.value = null
    await Promise.all([reload(), loadSetup()])
  } catch (problem) {
    awayWrong.value = told(problem)
  }
}
const BY = [
  { value: 'person' as By, words: 'By person' },
  { value: 'team' as By, words: 'By team' },
  { value: 'queue' as By, words: 'By queue' },
  { value: 'rule' as By, words: 'By rule' },
]
</script>

<template>
  <PageHead>
    <template #title
      ><span class="hidden text-muted sm:inline"><RouterLink to="/worklist">Worklist</RouterLink> /</span>
      <h1 class="mr-3 text-xl font-bold">Team</h1>
      <SelectBox v-model="by" :options="BY" label="Figures" strong
    /></template>
    <template #default>
      <span class="text-muted">Done and answer time are those of the last 30 days, in working time</span>
      <TableLink class="sm:ml-auto" of="team" :query="{ by }" />
    </template>
  </PageHead>
  <p v-if="data?.away.length" class="border-b border-line bg-band px-3 py-2 sm:px-5">
    <span v-for="(one, index) in data.away" :key="one.person"
      ><template v-if="index"> · </template><b class="font-semibold">{{ nameOf(one.person) }}</b> is away
      {{ day(one.from) }} to {{ day(one.until) }}</span
    >
  </p>
  <p v-if="data?.out_of_sight.length" class="border-b border-line bg-amber-bg px-3 py-2 sm:px-5">
    Tasks that are with somebody who may not see what they are about; pass them on:
    <span v-for="(one, index) in data.out_of_sight" :key="one.key"
      ><template v-if="index"> · </template
      ><RouterLink :to="{ path: '/worklist', query: { who: one.key } }">{{ nameOf(one.key) }}</RouterLink>
      {{ one.open }}</span
    >
  </p>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else-if="data" class="min-w-0 overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>{{ { person: 'Person', team: 'Team', queue: 'Queue', rule: 'Rule' }[by] }}</th>
          <th class="!text-right">Open</th>
          <th class="!text-right">Late</th>
          <th
            v-if="by === 'person'"
            class="!text-right"
            title="Open tasks by priority and due date, against the hours worked"
          >
            Load
          </th>
          <th class="!text-right">Done</th>
          <th class="!text-right">Answered in</th>
          <th v-if="by === 'person'"><span class="sr-only">Steps</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.rows" :key="row.key">
          <td>
            <RouterLink :to="place(row.key)" class="font-semibold text-ink">{{ row.name }}</RouterLink>
            <span v-if="by === 'person' && awayOf(row.key)" class="flag ml-2 bg-amber-bg text-amber"
              >away until {{ day(awayOf(row.key)!.until) }}</span
            >
          </td>
          <td class="text-right">{{ row.open }}</td>
          <td class="text-right" :class="row.late ? 'font-semibold text-red' : ''">{{ row.late }}</td>
          <td v-if="by === 'person'" class="text-right">{{ row.load?.toLocaleString('en-GB') ?? '–' }}</td>
          <td class="text-right">{{ row.done }}</td>
          <td class="text-right whitespace-nowrap">{{ row.answered_in ?? '–' }}</td>
          <td v-if="by === 'person'" class="text-right">
            <button
              v-if="data.may_enter.includes(row.key)"
              type="button"
              class="btn btn-quiet"
              @click="askAway(row.key)"
            >
              Days away
            </button>
            <button v-if="row.open" type="button" class="btn btn-quiet" @click="ask(row.key)">Pass all on</button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <DialogBox :open="awayFor !== null" :title="`Days away of ${nameOf(awayFor)}`" @close="awayFor = null">
    <form @submit.prevent="saveAway">
      <AbsenceRows v-model="absences" :today="setup.today" :wrong="awayWrong" />
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go">Save</button>
        <button type="button" class="btn btn-quiet" @click="awayFor = null">Not now</button>
      </div>
    </form>
  </DialogBox>
  <DialogBox :open="person !== null" :title="`Pass on all tasks of ${nameOf(person)}`" wide @close="person = null">
    <form class="min-h-64" @submit.prevent="passAll">
      <FormRow label="To" plain :wrong="wrong"><AssigneePicker v-model="to" label="To" /></FormRow>
      <template v-if="preview">
        <p class="mb-1">{{ counted(preview.length, 'task') }} would go:</p>
        <ul class="mb-3 max-h-60 overflow-auto border border-line px-2 py-1">
          <li v-for="task in preview" :key="task.id" class="flex justify-between gap-3 py-[2px]">
            <span class="min-w-0 break-words"
              >{{ task.title }} <span class="text-muted">{{ task.record?.title }}</span></span
            >
            <span class="whitespace-nowrap text-muted">{{
              task.assignee ? nameOf(task.assignee) : `queue ${queueName(task.queue)}`
            }}</span>
          </li>
        </ul>
      </template>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="!preview?.length">
          {{ preview?.length ? `Pass on ${counted(preview.length, 'task')}` : 'Pass on' }}
        </button>
        <button type="button" class="btn btn-quiet" @click="person = null">Leave them</button>
      </div>
    </form>
  </DialogBox>
</template>

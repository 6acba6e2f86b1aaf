<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { useTyped } from '@/lib/useTyped'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import PickOne from '@/parts/PickOne.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import DaysOffList from './DaysOffList.vue'
import HoursTable from './HoursTable.vue'
import { useChange } from './useChange'
import YearGrid from './YearGrid.vue'

/** The house itself: its name, money and numbers, and its working calendar with a year at a glance. */
const { setup } = useSetup()
const { load: readSession } = useSession()
const { wrong, busy, look, resting, send } = useChange()
const { say } = useNotices()

const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/setup/house')))
const { typed: form, changed, take } = useTyped(() => data.value?.house ?? null, look)
const zones = computed(() => data.value!.offered.zones.map((value) => ({ value, words: value.replace(/_/g, ' ') })))
const regions = computed(() => data.value!.offered.regions.map((one) => ({ value: one.key, words: one.name })))
const currencies = computed(() =>
  data.value!.offered.currencies.map((one) => ({ value: one.code, words: `${one.name} (${one.code})` })),
)
const FORMS = [
  { value: 'point', words: '1,250.50, with a point' },
  { value: 'comma', words: '1.250,50, with a comma' },
]

const year = ref(Number(setup.value.today.slice(0, 4)))
const days = ref<{ date: string; why: string; weekly: boolean }[]>([])
let asked = 0
/** The year as it would be with what is typed; what cannot be read yet leaves it as it is. */
async function readYear() {
  if (!form.value) return
  const mine = ++asked
  const body = { house: form.value, year: year.value }
  const fresh = await answerOf(api.POST('/api/setup/house/year', { body })).catch(() => null)
  if (fresh && mine === asked) days.value = fresh.days
}
watch([() => JSON.stringify(form.value), year], () => void readYear())

const asking = ref<{ timers: number; tasks: number; more: boolean } | null>(null)
const redate = ref(false)
const MOVING = ['zone', 'hours', 'holidays', 'days_off'] as const
const moves = computed(() =>
  MOVING.some((name) => JSON.stringify(form.value?.[name]) !== JSON.stringify(data.value?.house[name])),
)
/** Says first what would move with the calendar; where nothing would, it saves at once. */
async function ask() {
  redate.value = false
  if (!moves.value) return save()
  let counts = null as typeof asking.value
  const body = { house: form.value! }
  await send(async () => (counts = await answerOf(api.POST('/api/setup/house/preview', { body }))))
  if (!counts) return
  if (counts['timers'] || counts['tasks'] || counts['more']) asking.value = counts
  else await save()
}
async function save() {
  asking.value = null
  const body = { house: form.value!, redate: redate.value }
  const headers = resting.value
  const done = await send(async () => {
    data.value = await answerOf(api.PUT('/api/setup/house', { body, headers }))
  })
  if (!done) return
  await take()
  say('The house is saved.')
  await readSession()
}
const going = computed(() => data.value?.jobs.filter((job) => ['waiting', 'running'].includes(job.state)) ?? [])
const progress = computed(() => {
  const tasks = going.value.find((job) => job.what === 'redate')
  return tasks
    ? `Tasks move with the calendar: ${counted(tasks.looked_at, 'task')} looked at.`
    : `Timers move with the calendar: ${counted(going.value.length, 'rule')} to go.`
})
const moved = computed(() => data.value?.jobs.find((job) => job.what === 'redate' && job.state === 'done'))
const { pause, resume } = useIntervalFn(() => void reload(), 1000, { immediate: false })
watch(going, (jobs) => (jobs.length ? resume() : pause()))
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <form v-if="form && data" @submit.prevent="ask">
    <div class="grid gap-x-10 lg:grid-cols-2">
      <section class="min-w-0">
        <h2 class="mb-3 text-lg font-semibold">The house</h2>
        <FormRow v-slot="{ id, describedby }" label="What it is called" :wrong="wrong.name"
          ><input :id="id" v-model="form.name" class="input" maxlength="80" :aria-describedby="describedby"
        /></FormRow>
        <div class="grid gap-x-4 sm:grid-cols-2">
          <FormRow
            v-slot="{ id, describedby }"
            label="Currency"
            :wrong="wrong.currency"
            hint="For new fields that hold money."
            ><PickOne
              :id="id"
              v-model="form.currency"
              label="Currency"
              :options="currencies"
              :describedby="describedby"
          /></FormRow>
          <FormRow label="How numbers are written" plain :wrong="wrong.number_form"
            ><SelectBox v-model="form.number_form" :options="FORMS" label="How numbers are written" wide
          /></FormRow>
        </div>
        <FormRow v-slot="{ id, describedby }" label="Time zone" :wrong="wrong.zone"
          ><PickOne :id="id" v-model="form.zone" label="Time zone" :options="zones" :describedby="describedby"
        /></FormRow>
        <FormRow v-slot="{ id, describedby }" label="Public holidays" :wrong="wrong.holidays"
          ><PickOne
            :id="id"
            :model-value="form.holidays ?? ''"
            label="Public holidays"
            :options="regions"
            blank="None"
            :describedby="describedby"
            @update:model-value="(key) => (form!.holidays = key || null)"
        /></FormRow>
      </section>
      <section class="min-w-0">
        <h2 class="mb-3 text-lg font-semibold">When you work</h2>
        <FormRow label="Working hours" plain :wrong="wrong.hours"><HoursTable v-model="form.hours" /></FormRow>
      </section>
    </div>
    <DaysOffList v-model="form.days_off" :today="setup.today" :wrong="wrong.days_off" />
    <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
    <div class="mb-6 flex flex-wrap items-center gap-3">
      <button type="submit" class="btn btn-go" :aria-busy="busy" :disabled="!changed">Save the house</button>
      <span v-if="going.length" role="status" class="text-muted">{{ progress }}</span>
      <span v-else-if="moved" class="text-muted">{{
        moved.started ? `${counted(moved.started, 'open task')} moved to a working day.` : 'No open task had to move.'
      }}</span>
    </div>
    <section>
      <div class="mb-3 flex items-center gap-2">
        <h2 class="text-lg font-semibold">The year</h2>
        <button type="button" class="step" aria-label="The year before" @click="year -= 1">←</button>
        <span class="font-mono">{{ year }}</span>
        <button type="button" class="step" aria-label="The year after" @click="year += 1">→</button>
        <span v-if="changed" class="text-sm text-muted">as it will be when it is saved</span>
      </div>
      <YearGrid :year="year" :days="days" :today="setup.today" />
    </section>
  </form>
  <DialogBox :open="!!asking" title="What moves with the calendar" @close="asking = null">
    <form v-if="asking" @submit.prevent="save">
      <p class="mb-2">
        {{ asking.more ? 'At least ' : '' }}{{ counted(asking.timers, 'timer') }}
        {{ asking.timers === 1 ? 'comes' : 'come' }} due at another moment. They move by themselves.
      </p>
      <p class="mb-3">
        {{ asking.tasks ? counted(asking.tasks, 'open task is', 'open tasks are') : 'No open task is' }} due on a day
        that will be off.
      </p>
      <label v-if="asking.tasks || asking.more" class="mb-4 flex items-center gap-2"
        ><input v-model="redate" type="checkbox" /> move these tasks to the next working day</label
      >
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">Save the house</button>
        <button type="button" class="btn btn-quiet" @click="asking = null">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

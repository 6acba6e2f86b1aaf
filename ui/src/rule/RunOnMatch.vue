<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import HitMark from '@/parts/HitMark.vue'
import type { Kind } from '@/state/setup'
import type { Found } from './TryPanel.vue'

/** "Run on the records that match now": how many and which first; then the work, with progress, and how to stop it. */
const props = defineProps<{
  open: boolean
  kept: Schemas['Rule']
  kind: Kind
  filter: Schemas['Filter']
}>()
const emit = defineEmits<{ close: [] }>()
const { attempt } = useNotices()

const found = shallowRef<Found | null>(null)
const job = shallowRef<Schemas['Job'] | null>(null)
const wrong = ref<string | null>(null)
const under = computed(() => job.value !== null && ['waiting', 'running'].includes(job.value.state))
const total = computed(() => (found.value ? found.value.looked_at - (found.value.counts.skip ?? 0) : 0))
const rows = computed(() => (found.value?.rows ?? []).filter((row) => row.branches.length).slice(0, 12))
const share = computed(() =>
  job.value?.total ? Math.min(100, Math.round((100 * job.value.started) / job.value.total)) : 0,
)
const STATES: Record<string, string> = {
  waiting: 'Waiting for a worker',
  running: 'Running',
  done: 'Done',
  stopped: 'Stopped',
  failed: 'Failed',
}

async function count() {
  wrong.value = null
  try {
    const answer = await answerOf(api.GET('/api/rules/{id}/job', { params: { path: { id: props.kept.id } } }))
    job.value = answer.job && ['waiting', 'running'].includes(answer.job.state) ? answer.job : null
    found.value = await answerOf(
      api.POST('/api/try', { body: { rule: props.kept.published!, rule_id: props.kept.id, filter: props.filter } }),
    )
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
watch(
  () => props.open,
  (open) => open && count(),
)
async function start() {
  await attempt(async () => {
    job.value = await answerOf(
      api.POST('/api/jobs', { body: { rule_id: props.kept.id, total: total.value, filter: props.filter } }),
    )
  })
}
const stop = () =>
  attempt(async () => {
    job.value = await answerOf(api.POST('/api/jobs/{id}/stop', { params: { path: { id: job.value!.id } } }))
  })
useIntervalFn(async () => {
  if (!props.open || !under.value) return
  try {
    job.value = await answerOf(api.GET('/api/jobs/{id}', { params: { path: { id: job.value!.id } } }))
  } catch {
    // The next look will tell.
  }
}, 700)
</script>

<template>
  <DialogBox
    :open="open"
    :title="`Run version ${kept.version} on the ${kind.plural.toLowerCase()} that match now`"
    wide
    @close="emit('close')"
  >
    <p v-if="wrong" class="text-red">{{ wrong }}</p>
    <template v-else-if="job">
      <p class="mb-2" role="status">
        {{ STATES[job.state] }}: started on {{ job.started.toLocaleString('en-GB') }} of
        {{ counted(job.total, kind.label.toLowerCase(), kind.plural.toLowerCase()) }}.
      </p>
      <div
        class="mb-3 h-2 border border-pine"
        role="progressbar"
        :aria-valuenow="share"
        aria-valuemin="0"
        aria-valuemax="100"
      >
        <div class="h-full bg-pine" :style="{ width: `${share}%` }" />
      </div>
      <p v-if="!under" class="mb-3 text-muted">
        The runs stand in the <RouterLink :to="`/trail?rule=${kept.id}`">trail</RouterLink>, where they can be taken
        back.
      </p>
      <div class="flex gap-2">
        <button v-if="under" type="button" class="btn" @click="stop">Stop</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
      </div>
    </template>
    <template v-else-if="found">
      <p class="mb-2">
        It would run on <b data-test="match-count">{{ total.toLocaleString('en-GB') }}</b> of
        {{ counted(found.looked_at, kind.label.toLowerCase(), kind.plural.toLowerCase()) }} that the trigger could meet.
        None on which this version was run this way before is run on again.
      </p>
      <table v-if="rows.length" class="ledger mb-3 text-sm">
        <thead>
          <tr>
            <th class="w-[60px]">Branch</th>
            <th>{{ kind.label }}</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td><HitMark :branches="row.branches" :failed="row.failed" /></td>
            <td>{{ row.title }}</td>
            <td>{{ row.why }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="total > rows.length && rows.length" class="mb-3 text-sm text-muted">
        The newest {{ rows.length }} are listed.
      </p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" :disabled="!total" @click="start">
          Run on {{ counted(total, kind.label.toLowerCase(), kind.plural.toLowerCase()) }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </template>
    <p v-else class="text-muted">Counting the {{ kind.plural.toLowerCase() }} that match.</p>
  </DialogBox>
</template>

<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import { useChange } from './useChange'
import UsesNote from './UsesNote.vue'

/** Somebody leaves: what is theirs, with counts, and to whom it goes; then how far that is, and taking it back. */
const props = defineProps<{ open: boolean; person: Schemas['Person'] | null }>()
const emit = defineEmits<{ close: [] }>()
const { setup, people } = useSetup()
const { moment } = useDates()
const { wrong, busy, send } = useChange()

const { data, error, reload } = useLoaded(
  async () =>
    props.open && props.person
      ? answerOf(api.GET('/api/setup/leaving', { params: { query: { person: props.person.key } } }))
      : null,
  [() => props.open && props.person?.key],
)
type Part = 'records' | 'fields' | 'tasks' | 'rules' | 'kits' | 'presets'
const PARTS: { key: Part; words: string }[] = [
  { key: 'records', words: 'Records that they own' },
  { key: 'fields', words: 'Places on records where they stand' },
  { key: 'tasks', words: 'Open tasks' },
  { key: 'rules', words: 'Rules that are theirs' },
  { key: 'kits', words: 'Kits that are theirs' },
  { key: 'presets', words: 'Texts for notes' },
]
const to = ref<Record<Part, string>>({ records: '', fields: '', tasks: '', rules: '', kits: '', presets: '' })
watch(
  () => props.open,
  (open) => {
    if (open) to.value = { records: '', fields: '', tasks: 'owner', rules: '', kits: '', presets: '' }
    wrong.value = {}
  },
)
const filled = computed(() => PARTS.filter((part) => data.value?.counts[part.key]))
const others = computed(() =>
  people.value
    .filter((one) => one.key !== props.person?.key)
    .map((one) => ({ value: `p:${one.key}`, words: one.name })),
)
const options = (part: Part) => [
  { value: '', words: 'stay where they are' },
  ...(part === 'tasks' ? [{ value: 'owner', words: 'to the owner of their record' }] : []),
  ...others.value,
  ...(part === 'tasks' ? setup.value.queues.map((one) => ({ value: `q:${one.key}`, words: `Queue ${one.name}` })) : []),
]
function target(chosen: string): Schemas['HandTo'] {
  if (chosen === 'owner') return { owner: true }
  const key = chosen.slice(2) || null
  return chosen.startsWith('q:') ? { queue: key } : { person: key }
}
async function leave() {
  const given = Object.fromEntries(filled.value.map((part) => [part.key, target(to.value[part.key])]))
  const body = { person: props.person!.key, to: given }
  await send(async () => (data.value = await answerOf(api.POST('/api/setup/leaving', { body }))))
}
const takeBack = () =>
  send(async () => {
    const body = { person: props.person!.key }
    data.value = await answerOf(api.POST('/api/setup/leaving/back', { body }))
  })

const job = computed(() => data.value?.job ?? null)
const going = computed(() => !!job.value && ['waiting', 'running'].includes(job.value.state))
const { pause, resume } = useIntervalFn(() => void reload(), 1000, { immediate: false })
watch([going, () => props.open], () => (going.value && props.open ? resume() : pause()))
const stayed = computed(() => (job.value ? job.value.looked_at - job.value.started : 0))
const gone = computed(() => !!props.person && !people.value.some((one) => one.key === props.person!.key))
</script>

<template>
  <DialogBox
    :open="open"
    :title="gone ? `Hand-over of ${person?.name}` : `${person?.name} leaves`"
    wide
    @close="emit('close')"
  >
    <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
    <div v-else-if="data">
      <div v-if="job && (gone || job.what === 'hand_back')" class="mb-4" role="status">
        <p class="font-semibold">{{ job.note }}</p>
        <p v-if="going">{{ counted(job.looked_at, 'thing') }} of {{ job.total }} looked at.</p>
        <p v-else>
          {{ counted(job.started, 'thing') }} moved.
          <template v-if="stayed"
            >{{ counted(stayed, 'thing') }} stayed where {{ stayed === 1 ? 'it is' : 'they are' }}; leads see what is
            left.</template
          >
        </p>
        <p v-if="data.back_until && !going" class="mt-3">
          <button type="button" class="btn" :aria-busy="busy" @click="takeBack">
            Take it back, and let them in again
          </button>
          <span class="ml-3 text-muted">until {{ moment(data.back_until) }}; not what somebody has changed since</span>
        </p>
      </div>
      <form v-if="!going && (!gone || filled.length)" @submit.prevent="leave">
        <UsesNote
          v-if="person && !gone"
          :of="`person ${person.key}`"
          doing="This person is passed over there from now on."
        />
        <table v-if="filled.length" class="ledger mb-3">
          <thead>
            <tr>
              <th>{{ gone ? 'Still theirs' : 'What is theirs' }}</th>
              <th class="!text-right">How many</th>
              <th>To whom it goes</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="part in filled" :key="part.key">
              <td>{{ part.words }}</td>
              <td class="text-right font-mono">{{ data.counts[part.key].toLocaleString('en-GB') }}</td>
              <td>
                <SelectBox v-model="to[part.key]" :options="options(part.key)" :label="part.words" />
                <p v-if="wrong[part.key]" class="text-sm text-red" role="alert">{{ wrong[part.key] }}</p>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="mb-3">Nothing is theirs, so there is nothing to hand over.</p>
        <p v-if="wrong[''] ?? wrong.active ?? wrong.person" class="mb-3 text-red" role="alert">
          {{ wrong[''] ?? wrong.active ?? wrong.person }}
        </p>
        <div class="flex flex-wrap items-center gap-3">
          <button type="submit" class="btn btn-go" :aria-busy="busy">
            {{ gone ? 'Hand this over' : filled.length ? 'End the account and hand over' : 'End the account' }}
          </button>
          <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
          <span v-if="!gone" class="text-sm text-muted">They are signed out at once.</span>
        </div>
      </form>
      <button v-else type="button" class="btn" @click="emit('close')">Close</button>
    </div>
  </DialogBox>
</template>

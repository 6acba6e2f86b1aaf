<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup } from '@/state/setup'
import { ORDER_WORDS } from './types'
import { useChange } from './useChange'
import UsesNote from './UsesNote.vue'

/** A team or a queue: a new one, or one to be changed or retired. */
const props = defineProps<{ open: boolean; what: 'team' | 'queue'; of: string | null; desks: Schemas['Desks'] }>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const { wrong, busy, leaning, look, resting, send } = useChange()

const name = ref('')
const team = ref('')
const kinds = ref<string[]>([])
const order = ref<'due' | 'priority' | 'age'>('due')
const known = computed(() =>
  (props.what === 'team' ? props.desks.teams : props.desks.queues).find((one) => one.key === props.of),
)
watch(
  () => props.open,
  (open) => {
    if (!open) return
    const queue = props.desks.queues.find((one) => props.what === 'queue' && one.key === props.of)
    name.value = known.value?.name ?? ''
    team.value = queue?.team ?? props.desks.teams.find((one) => !one.retired_at)?.key ?? ''
    kinds.value = [...(queue?.kinds ?? [])]
    order.value = queue?.order ?? 'due'
    wrong.value = {}
    leaning.value = false
    look()
  },
)

function write() {
  const key = props.of
  const headers = resting.value
  if (props.what === 'team') {
    const form = { name: name.value }
    return key
      ? api.PUT('/api/setup/desks/teams', { headers, body: { key, team: form } })
      : api.POST('/api/setup/desks/teams', { body: { team: form } })
  }
  const anyway = leaning.value && !!wrong.value.kinds
  const form = { name: name.value, team: team.value, kinds: kinds.value, order: order.value, anyway }
  return key
    ? api.PUT('/api/setup/desks/queues', { headers, body: { key, queue: form } })
    : api.POST('/api/setup/desks/queues', { body: { queue: form } })
}
async function save() {
  const call = write()
  if (await send(() => answerOf<unknown>(call))) emit('close')
}
async function retire() {
  const body = { key: props.of!, anyway: leaning.value && !!wrong.value[props.what] }
  const done = await send(() =>
    answerOf<unknown>(
      props.what === 'team'
        ? api.DELETE('/api/setup/desks/teams', { body })
        : api.DELETE('/api/setup/desks/queues', { body }),
    ),
  )
  if (done) emit('close')
}
</script>

<template>
  <DialogBox
    :open="open"
    :title="known ? `${what === 'team' ? 'Team' : 'Queue'} ${known.name}` : `New ${what}`"
    @close="emit('close')"
  >
    <form @submit.prevent="save">
      <UsesNote v-if="of" :of="`${what} ${of}`" doing="Look at them before you retire it." />
      <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
      /></FormRow>
      <template v-if="what === 'queue'">
        <FormRow label="Who takes from it" plain :wrong="wrong.team"
          ><SelectBox
            v-model="team"
            :options="desks.teams.filter((one) => !one.retired_at).map((one) => ({ value: one.key, words: one.name }))"
            label="Who takes from it"
            wide
        /></FormRow>
        <FormRow
          label="Tasks about"
          plain
          :wrong="wrong.kinds"
          hint="A task about anything else is refused, by hand as by a rule."
          ><SeveralBox
            v-model="kinds"
            :options="setup.kinds.map((one) => ({ value: one.key, words: one.plural }))"
            label="Tasks about"
            blank="everything, or nothing"
            wide
        /></FormRow>
        <FormRow label="Which is next" plain :wrong="wrong.order"
          ><SelectBox
            v-model="order"
            :options="(['due', 'priority', 'age'] as const).map((value) => ({ value, words: ORDER_WORDS[value] }))"
            label="Which is next"
            wide
        /></FormRow>
      </template>
      <p v-if="wrong[''] ?? (what === 'team' ? wrong.team : wrong.queue)" class="mb-3 text-red" role="alert">
        {{ wrong[''] ?? (what === 'team' ? wrong.team : wrong.queue) }}
      </p>
      <div class="flex flex-wrap gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">
          {{ leaning && wrong.kinds ? 'Save all the same' : known ? 'Save' : `Add the ${what}` }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
        <button v-if="known" type="button" class="btn btn-quiet ml-auto" :aria-busy="busy" @click="retire">
          {{ leaning && wrong[what] ? 'Retire it all the same' : 'Retire' }}
        </button>
      </div>
    </form>
  </DialogBox>
</template>

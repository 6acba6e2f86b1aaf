<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import AbsenceRows from '@/parts/AbsenceRows.vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useNotices } from '@/lib/useNotices'
import { useSetup } from '@/state/setup'
import HoursTable from './HoursTable.vue'
import { useChange } from './useChange'

/** A person: a new one who gets a link to choose a password with, or one to be changed. */
const props = defineProps<{ open: boolean; person: Schemas['Person'] | null }>()
const emit = defineEmits<{ close: []; leave: [] }>()
const { setup } = useSetup()
const { wrong, busy, look, resting, send } = useChange()
const { attempt, say } = useNotices()
const form = ref<Schemas['PersonForm']>({ name: '', email: '', role: 'member' })
const link = ref('')
const mailed = ref(false)
const forgotten = ref(false)
watch(
  () => props.open,
  (open) => {
    if (!open) return
    link.value = ''
    wrong.value = {}
    look()
    const one = props.person
    form.value = {
      name: one?.name ?? '',
      email: one?.email ?? '',
      phone: one?.phone ?? '',
      role: one?.role ?? 'member',
      team: one?.team ?? null,
      teams: [...(one?.teams ?? [])],
      week: one?.week?.map((day) => ({ ...day })) ?? null,
      active: one?.active ?? true,
      hours: one?.hours ?? 100,
      absences: one?.absences.map((each) => ({ ...each })) ?? [],
    }
  },
)
async function save() {
  const headers = resting.value
  const teams = form.value.teams ?? []
  const team = teams.includes(form.value.team ?? '') ? form.value.team : (teams[0] ?? null)
  const person = { ...form.value, team }
  const done = await send(async () => {
    if (props.person)
      return answerOf(api.PUT('/api/setup/persons', { headers, body: { key: props.person.key, person } }))
    const made = await answerOf(api.POST('/api/setup/persons', { body: { person } }))
    forgotten.value = false
    link.value = location.origin + made.link
    mailed.value = made.mailed
    return made
  })
  if (done && !link.value) emit('close')
}
async function makeLink() {
  await send(async () => {
    const made = await answerOf(api.POST('/api/setup/links', { body: { person: props.person!.key } }))
    forgotten.value = !made.invited
    link.value = location.origin + made.link
    mailed.value = made.mailed
  })
}
/** For somebody who has lost what they do it with. */
async function endSecondStep() {
  const body = { person: props.person!.key }
  if (await send(() => answerOf(api.DELETE('/api/setup/second-step', { body })))) {
    emit('close')
    say(`${form.value.name} signs in with the password alone now, until they set up another second step.`)
  }
}
async function copy() {
  if (await attempt(() => navigator.clipboard.writeText(link.value), 'The link is copied.')) emit('close')
}
const usualWeek = () => [1, 2, 3, 4].map((day) => ({ day, from: '09:00', to: '15:00' }))
</script>

<template>
  <DialogBox :open="open" :title="person ? person.name : 'New person'" @close="emit('close')">
    <div v-if="link">
      <p class="mb-2">
        With this link {{ form.name }} chooses a password of their own. It is good for
        {{ forgotten ? 'an hour' : 'seven days' }} and one use, and is shown only now; send it to them.
      </p>
      <p v-if="mailed" class="mb-2">It is on its way to {{ form.email }} by mail.</p>
      <p class="mb-4 border border-pine bg-band px-3 py-2 font-mono text-sm break-all select-all" data-test="link">
        {{ link }}
      </p>
      <div class="flex gap-3">
        <button type="button" class="btn btn-go" @click="copy">Copy the link</button>
        <button type="button" class="btn" @click="emit('close')">I have it</button>
      </div>
    </div>
    <form v-else @submit.prevent="save">
      <FormRow v-slot="{ id }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="form.name" class="input" maxlength="120"
      /></FormRow>
      <FormRow v-slot="{ id }" label="Phone" :wrong="wrong.phone"
        ><input :id="id" v-model="form.phone" type="tel" class="input" maxlength="60"
      /></FormRow>
      <FormRow v-slot="{ id }" label="E-mail, to sign in with" :wrong="wrong.email"
        ><input :id="id" v-model="form.email" type="email" class="input" maxlength="190"
      /></FormRow>
      <div class="grid grid-cols-2 gap-x-4">
        <FormRow label="Role" :wrong="wrong.role" plain
          ><SelectBox
            v-model="form.role"
            :options="['administrator', 'lead', 'member'].map((one) => ({ value: one, words: one }))"
            label="Role"
            wide
        /></FormRow>
        <FormRow label="Teams" :wrong="wrong.team" plain
          ><SeveralBox
            :model-value="form.teams ?? []"
            :options="setup.teams.map((one) => ({ value: one.key, words: one.name }))"
            label="Teams"
            blank="none"
            wide
            @update:model-value="(teams) => (form.teams = teams)"
        /></FormRow>
      </div>
      <FormRow v-if="(form.teams?.length ?? 0) > 1" label="Their work counts for" plain
        ><SelectBox
          :model-value="form.teams!.includes(form.team ?? '') ? form.team! : form.teams![0]!"
          :options="
            setup.teams
              .filter((one) => form.teams!.includes(one.key))
              .map((one) => ({ value: one.key, words: one.name }))
          "
          label="Their work counts for"
          wide
          @update:model-value="(team) => (form.team = team)"
      /></FormRow>
      <label class="mb-3 flex items-center gap-2"
        ><input
          type="checkbox"
          :checked="!!form.week"
          @change="form.week = ($event.target as HTMLInputElement).checked ? usualWeek() : null"
        />
        works hours of their own</label
      >
      <FormRow
        v-if="form.week"
        label="Their hours"
        plain
        :wrong="wrong.week"
        hint="On days that are not theirs, tasks go to others, and the lightest load is reckoned by these hours."
        ><HoursTable v-model="form.week"
      /></FormRow>
      <FormRow
        v-else
        v-slot="{ id, describedby }"
        label="Hours, in percent of the full ones"
        :wrong="wrong.hours"
        hint="The lightest load is reckoned against them."
        ><input
          :id="id"
          v-model.number="form.hours"
          type="number"
          min="1"
          max="100"
          class="input !w-24"
          :aria-describedby="describedby"
      /></FormRow>
      <AbsenceRows
        :model-value="form.absences ?? []"
        :today="setup.today"
        :wrong="wrong.absences"
        @update:model-value="(rows) => (form.absences = rows)"
      />
      <label v-if="person && !person.active" class="mb-3 flex items-center gap-2"
        ><input v-model="form.active" type="checkbox" /> works here again</label
      >
      <p v-if="wrong.active ?? wrong['']" class="mb-3 text-red" role="alert">{{ wrong.active ?? wrong[''] }}</p>
      <div class="flex flex-wrap items-center gap-3">
        <button type="submit" class="btn btn-go" :disabled="busy">{{ person ? 'Save' : 'Invite them' }}</button>
        <button v-if="person" type="button" class="link" @click="emit('leave')">
          {{ person.active ? 'They leave' : 'Their hand-over' }}
        </button>
        <button
          v-if="person?.active && !person.program"
          type="button"
          class="link ml-auto"
          :disabled="busy"
          @click="makeLink"
        >
          {{ person.invited ? 'A new invitation' : 'A link for a new password' }}
        </button>
        <button v-if="person?.second_step" type="button" class="link" :disabled="busy" @click="endSecondStep">
          Take the second step away
        </button>
      </div>
    </form>
  </DialogBox>
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useSetup } from '@/state/setup'
import { useSession } from '@/state/session'
import LeavingDialog from './LeavingDialog.vue'
import PersonDialog from './PersonDialog.vue'
import { useChange } from './useChange'

/** Everybody with role, team and absences. */
const { setup } = useSetup()
const { day } = useDates()
const editing = ref<Schemas['Person'] | null>(null)
const open = ref(false)
const leaving = ref(false)
function askLeaving() {
  open.value = false
  leaving.value = true
}
function edit(person: Schemas['Person'] | null) {
  editing.value = person
  open.value = true
}
/** The team that their work counts for comes first. */
const teams = (person: Schemas['Person']) =>
  [...person.teams]
    .sort((one, other) => Number(other === person.team) - Number(one === person.team))
    .map((key) => setup.value.teams.find((team) => team.key === key)?.name ?? key)
    .join(', ')
const ROLES = [
  { key: 'administrator', words: 'administrators' },
  { key: 'lead', words: 'leads' },
  { key: 'member', words: 'members' },
]
const { send, wrong } = useChange()
const { load: readSession } = useSession()
async function need(role: string, on: boolean) {
  const roles = [...setup.value.second_step.filter((one) => one !== role), ...(on ? [role] : [])]
  await send(() => answerOf(api.PUT('/api/setup/second-step', { body: { roles } })))
  await readSession()
}
const people = computed(() => [...setup.value.people].sort((one, other) => Number(other.active) - Number(one.active)))
</script>

<template>
  <div class="mb-2 flex items-center gap-3">
    <h2 class="text-lg font-semibold">People</h2>
    <button type="button" class="btn btn-go" @click="edit(null)">New person</button>
  </div>
  <div class="overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>Name</th>
          <th>Role</th>
          <th>Teams</th>
          <th>E-mail</th>
          <th>Away</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="person in people" :key="person.key" class="cursor-pointer" @click="edit(person)">
          <td>
            <button type="button" class="font-semibold hover:underline" :class="person.active ? '' : 'text-muted'">
              {{ person.name }}
            </button>
            <span v-if="!person.active" class="flag ml-2 bg-band-2">has left</span>
            <span v-else-if="person.program" class="flag ml-2 bg-band-2">program</span>
            <span v-else-if="person.second_step" class="flag ml-2 bg-band-2">second step</span>
            <span v-else-if="person.invited" class="flag ml-2 bg-amber-bg text-amber">invited, not come yet</span>
          </td>
          <td>{{ person.role }}</td>
          <td>{{ teams(person) }}</td>
          <td>{{ person.email }}</td>
          <td>
            {{
              person.absences
                .map((one) => (one.from === one.to ? day(one.from) : `${day(one.from)} to ${day(one.to)}`))
                .join('; ')
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <fieldset class="mt-6 max-w-xl">
    <legend class="mb-1 text-lg font-semibold">Second step at sign-in</legend>
    <p class="mb-2 text-muted">
      Everybody can set one up on their own page. Of those named here it is required: without it they get no further.
    </p>
    <label v-for="role in ROLES" :key="role.key" class="mr-5 inline-flex items-center gap-2"
      ><input
        type="checkbox"
        :checked="setup.second_step.includes(role.key)"
        @change="need(role.key, ($event.target as HTMLInputElement).checked)"
      />{{ role.words }}</label
    >
    <p v-if="wrong['']" class="text-sm text-red" role="alert">{{ wrong[''] }}</p>
  </fieldset>
  <PersonDialog :open="open" :person="editing" @close="open = false" @leave="askLeaving" />
  <LeavingDialog :open="leaving" :person="editing" @close="leaving = false" />
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useSetup } from '@/state/setup'
import PersonDialog from './PersonDialog.vue'

/** Everybody with role, team and absences. */
const { setup } = useSetup()
const { day } = useDates()
const editing = ref<Schemas['Person'] | null>(null)
const open = ref(false)
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
  <PersonDialog :open="open" :person="editing" @close="open = false" />
</template>

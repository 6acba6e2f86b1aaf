<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import DoorInbox from './DoorInbox.vue'
import DoorSheet from './DoorSheet.vue'
import KeptAway from './KeptAway.vue'
import NewKeptDialog from './NewKeptDialog.vue'
import { useSheetList } from './useSheetList'

/** Doors by which programs send what becomes records, and what of it waits since it was refused. */
const { setup, kindOf } = useSetup()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/doors')), [setup])
const { busy, open, go, used, away, adding, bringBack } = useSheetList(
  () => data.value?.doors,
  (key) => answerOf(api.POST('/api/doors/back', { body: { key } })),
  ' It stays shut until you open it.',
)
/** The secret of the door that was just made; it is shown this once. */
const secret = ref('')
async function make(body: { name: string; kind: string }) {
  const made = await answerOf(api.POST('/api/doors', { body }))
  adding.value = false
  secret.value = made.secret ?? ''
  await go(made.key!)
}
async function close() {
  secret.value = ''
  await go(null)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <DoorSheet v-if="open" :key="open" :door-key="open" :fresh-secret="secret" @close="close" />
  <template v-else-if="data">
    <div class="mb-2 flex items-center gap-3">
      <h2 class="text-lg font-semibold">Programs</h2>
      <button type="button" class="btn btn-go" @click="adding = true">New door</button>
    </div>
    <p class="mb-3 max-w-xl text-muted">
      A program that has something to tell sends it to a door as an event (CloudEvents 1.0). A table says which of it
      goes into which field. Each event counts once, however often it is sent; what cannot be taken waits in the inbox.
    </p>
    <div v-if="used.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>Becomes</th>
            <th>State</th>
            <th class="text-right">In the inbox</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in used" :key="one.key" class="cursor-pointer" @click="go(one.key)">
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ one.name }}</button>
            </td>
            <td>{{ kindOf(one.kind)?.plural ?? 'a list that was taken away' }}</td>
            <td>{{ one.open ? 'open' : 'shut' }}</td>
            <td class="text-right" :class="one.waiting ? 'font-semibold text-amber' : ''">{{ one.waiting }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="text-muted">No door yet. Nothing comes in from programs until there is one.</p>
    <DoorInbox :doors="used" @settled="reload" />
    <KeptAway :rows="away" :busy="busy" @back="bringBack" />
  </template>
  <NewKeptDialog :open="adding" title="New door" :make="make" @close="adding = false" />
</template>

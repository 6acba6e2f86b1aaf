<script setup lang="ts">
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import FormSheet from './FormSheet.vue'
import KeptAway from './KeptAway.vue'
import NewKeptDialog from './NewKeptDialog.vue'
import { useSheetList } from './useSheetList'

/** Forms for visitors: what each makes, where it stands, and how often it was sent. */
const { setup, kindOf } = useSetup()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/forms')), [setup])
const { busy, open, go, used, away, adding, bringBack } = useSheetList(
  () => data.value?.forms,
  (key) => answerOf(api.POST('/api/forms/back', { body: { key } })),
)
const stateOf = (row: Schemas['FormRow']) =>
  !row.number ? 'draft' : row.closed ? 'closed' : `open, version ${row.number}`
async function make(body: { name: string; kind: string }) {
  const { key } = await answerOf(api.POST('/api/forms', { body }))
  adding.value = false
  await go(key!)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <FormSheet v-if="open" :key="open" :form-key="open" @close="go(null)" />
  <template v-else-if="data">
    <div class="mb-2 flex items-center gap-3">
      <h2 class="text-lg font-semibold">Forms</h2>
      <button type="button" class="btn btn-go" @click="adding = true">New form</button>
    </div>
    <p class="mb-3 max-w-xl text-muted">
      What visitors fill in without signing in, at an address of its own or within your own pages. Each asks only what
      you choose. What is sent becomes a record that rules meet; who gives an e-mail becomes a contact, or is found
      among those there are.
    </p>
    <div v-if="used.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>Makes</th>
            <th>State</th>
            <th class="text-right">Sent in 30 days</th>
            <th>Address</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in used" :key="one.key" class="cursor-pointer" @click="go(one.key)">
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ one.name }}</button>
            </td>
            <td>{{ kindOf(one.kind)?.plural ?? 'a list that was taken away' }}</td>
            <td>{{ stateOf(one) }}</td>
            <td class="text-right">{{ one.sent }}</td>
            <td>
              <a v-if="one.number" :href="one.address" target="_blank" rel="noopener" class="link" @click.stop
                >Look at it</a
              ><span v-else class="text-muted">not yet</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="text-muted">No form yet. Nothing comes in from visitors until there is one.</p>
    <KeptAway :rows="away" :busy="busy" @back="bringBack" />
  </template>
  <NewKeptDialog
    :open="adding"
    title="New form"
    hint="Visitors read the heading, not this."
    :make="make"
    @close="adding = false"
  />
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import AddressDialog from './AddressDialog.vue'
import MessageDialog from './MessageDialog.vue'
import { ADDRESS_WORDS } from './types'
import { useChange } from './useChange'

/** Where messages of rules go outside: boards, and programs that are told by web calls. */
type Address = Schemas['Address']
const { setup, kindOf } = useSetup()
const { busy, send, wrong } = useChange()
const { say } = useNotices()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/addresses')), [setup])
const used = computed(() => data.value?.addresses.filter((one) => !one.retired_at) ?? [])
const away = computed(() => data.value?.addresses.filter((one) => one.retired_at) ?? [])
const open = ref(false)
const chosen = ref<Address | null>(null)
function edit(one: Address | null) {
  chosen.value = one
  open.value = true
}
const carries = (one: Address) =>
  Object.entries(one.fields)
    .map(([key, names]) => `${kindOf(key)?.plural ?? key}: ${names.length}`)
    .join(', ') || 'no fields'

const sample = ref<number | null>(null)
const trying = ref('')
async function tryOut(one: Address) {
  trying.value = one.key
  await send(async () => {
    const { message } = await answerOf(api.POST('/api/addresses/try', { body: { key: one.key } }))
    sample.value = message
  })
}
async function bringBack(one: Address) {
  if (await send(() => answerOf(api.POST('/api/addresses/back', { body: { key: one.key } }))))
    say(`${one.name} is back.`)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <template v-if="data">
    <div class="mb-2 flex items-center gap-3">
      <h2 class="text-lg font-semibold">Boards and programs</h2>
      <button type="button" class="btn btn-go" @click="edit(null)">New address</button>
    </div>
    <p class="mb-3 max-w-xl text-muted">
      A board is a channel of a chat server, on which rules write. A program is told by a signed web call, and its
      answer can be read back into fields.
    </p>
    <div v-if="used.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>What it is</th>
            <th>At</th>
            <th>A call carries</th>
            <th><span class="sr-only">Try it</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in used" :key="one.key" class="cursor-pointer" @click="edit(one)">
            <td>
              <button type="button" class="text-left font-semibold hover:underline">{{ one.name }}</button>
            </td>
            <td>{{ ADDRESS_WORDS[one.way] }}</td>
            <td class="break-all">
              {{ one.host
              }}<span v-if="one.per_minute" class="text-muted">, {{ one.per_minute }} a minute at most</span>
            </td>
            <td>{{ one.way === 'call' ? carries(one) : '' }}</td>
            <td class="text-right">
              <button
                type="button"
                class="btn whitespace-nowrap"
                :aria-label="`Send a sample to ${one.name}`"
                :aria-busy="busy"
                @click.stop="tryOut(one)"
              >
                Send a sample
              </button>
              <p v-if="trying === one.key && (wrong[''] ?? wrong.key)" class="text-red" role="alert">
                {{ wrong[''] ?? wrong.key }}
              </p>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="text-muted">No address yet. Rules can write on boards and call programs once there is one.</p>
    <section v-if="away.length" class="mt-8">
      <h2 class="mb-1 text-lg font-semibold">Taken away</h2>
      <ul class="max-w-xl">
        <li v-for="one in away" :key="one.key" class="flex items-center gap-3 border-b border-line py-1">
          <span class="font-semibold">{{ one.name }}</span>
          <span class="text-sm text-muted">{{ ADDRESS_WORDS[one.way] }}</span>
          <button
            type="button"
            class="btn ml-auto"
            :aria-busy="busy"
            :aria-label="`Bring back ${one.name}`"
            @click="bringBack(one)"
          >
            Bring back
          </button>
        </li>
      </ul>
    </section>
    <AddressDialog :open="open" :address="chosen" @close="((open = false), reload())" />
    <MessageDialog :id="sample" @close="sample = null" />
  </template>
</template>

<script setup lang="ts">
import Bowser from 'bowser'
import { computed, ref } from 'vue'
import { answerOf, api, sentenceOf } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import NewPassword from '@/parts/NewPassword.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'

/** What belongs to whoever is signed in: their password, and where they are signed in. */
const { person } = useSession()
const { say, attempt } = useNotices()
const { moment } = useDates()

const form = ref({ now: '', next: '' })
const wrong = ref('')
const busy = ref(false)
async function change() {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    const body = { password: form.value.now, 'new-password': form.value.next }
    await answerOf(api.POST('/api/change-password', { body }))
    form.value = { now: '', next: '' }
    say('Your password is changed. All your other sessions have ended.')
    void reload()
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}

const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/me/sessions')))
const others = computed(() => data.value?.sessions.filter((one) => !one.here).length ?? 0)
const end = (id: string | null) =>
  attempt(
    async () => (data.value = await answerOf(api.DELETE('/api/me/sessions', { body: { id } }))),
    id ? 'That session has ended.' : 'All your other sessions have ended.',
  )

function device(text: string | null) {
  if (!text) return 'unknown'
  const { browser, os } = Bowser.parse(text)
  return [browser.name, os.name && `on ${os.name}`].filter(Boolean).join(' ') || 'another program'
}
</script>

<template>
  <div class="flex items-center gap-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Your page</h1>
    <span class="text-muted">{{ person?.name }}, {{ person?.role }}</span>
  </div>
  <div class="grid gap-x-12 p-3 sm:p-5 lg:grid-cols-[24rem_1fr]">
    <section class="mb-8 min-w-0">
      <h2 class="mb-3 text-lg font-semibold">Password</h2>
      <form @submit.prevent="change">
        <input type="text" class="hidden" autocomplete="username" :value="person?.email ?? ''" readonly />
        <FormRow v-slot="{ id }" label="The one you have now">
          <input
            :id="id"
            v-model="form.now"
            type="password"
            class="input"
            maxlength="200"
            required
            autocomplete="current-password"
          />
        </FormRow>
        <NewPassword v-model="form.next" label="The new one" :wrong="wrong" />
        <button type="submit" class="btn btn-go" :aria-busy="busy">Change the password</button>
      </form>
    </section>
    <section class="min-w-0">
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Where you are signed in</h2>
        <button v-if="others" type="button" class="btn" @click="end(null)">End all others</button>
      </div>
      <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
      <div class="overflow-x-auto">
        <table v-if="data" class="ledger">
          <thead>
            <tr>
              <th>On</th>
              <th class="hidden sm:table-cell">Since</th>
              <th>Last used</th>
              <th><span class="sr-only">End it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in data.sessions" :key="one.id">
              <td>{{ device(one.device) }} <span v-if="one.here" class="flag ml-1 bg-band-2">this one</span></td>
              <td class="hidden whitespace-nowrap sm:table-cell">{{ moment(one.begun_at) }}</td>
              <td class="whitespace-nowrap">{{ moment(one.used_at) }}</td>
              <td class="text-right">
                <button v-if="!one.here" type="button" class="link whitespace-nowrap" @click="end(one.id)">
                  End it
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  </div>
</template>

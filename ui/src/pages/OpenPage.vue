<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, fetchSession, sentenceOf, type Schemas } from '@/api/client'
import { wrongAt } from '@/lib/wrongAt'
import FormRow from '@/parts/FormRow.vue'
import NewPassword from '@/parts/NewPassword.vue'
import OutsidePage from '@/parts/OutsidePage.vue'
import PickOne from '@/parts/PickOne.vue'
import HoursTable from '@/setup/HoursTable.vue'
import { useSession } from '@/state/session'

/** Opens an empty house, for whoever has the one-time code. The code comes behind the # of the address, where no
 * server and no log sees it. */
const route = useRoute()
const router = useRouter()
const { signIn } = useSession()
const offered = ref<Schemas['Opening'] | null>(null)
const trouble = ref('')
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

const code = ref('')
watch(
  () => route.hash,
  (hash) => hash && (code.value = hash.slice(1)),
  { immediate: true },
)
const name = ref('')
const zone = ref(Intl.DateTimeFormat().resolvedOptions().timeZone)
const holidays = ref('')
const currency = ref('EUR')
const hours = ref<Schemas['WeekHours']>([1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' })))
const person = ref({ name: '', email: '', password: '' })

const zones = computed(() => (offered.value?.zones ?? []).map((value) => ({ value, words: value.replace(/_/g, ' ') })))
const regions = computed(() => (offered.value?.regions ?? []).map((one) => ({ value: one.key, words: one.name })))
const currencies = computed(() =>
  (offered.value?.currencies ?? []).map((one) => ({ value: one.code, words: `${one.name} (${one.code})` })),
)
const DRAWN = [
  'code',
  'name',
  'zone',
  'hours',
  'holidays',
  'currency',
  'person.name',
  'person.email',
  'person.password',
]

async function load() {
  trouble.value = ''
  try {
    offered.value = await answerOf(api.GET('/api/opening'))
    // What the browser calls its zone may be an older name, which is no choice here.
    if (!offered.value.zones.includes(zone.value)) zone.value = ''
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}

async function open() {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = {}
  try {
    await fetchSession()
    await answerOf(
      api.POST('/api/opening', {
        body: {
          code: code.value.trim(),
          name: name.value,
          zone: zone.value,
          hours: hours.value,
          holidays: holidays.value || null,
          currency: currency.value,
          person: person.value,
        },
      }),
    )
    await signIn(person.value.email, person.value.password)
    await router.push('/worklist')
  } catch (problem) {
    wrong.value = wrongAt(problem, DRAWN)
  } finally {
    busy.value = false
  }
}
void load()
</script>

<template>
  <OutsidePage>
    <p v-if="trouble" class="text-red" role="alert">
      {{ trouble }} <button type="button" class="link" @click="load">Try again</button>
    </p>
    <template v-else-if="offered?.open">
      <h1 class="mb-2 text-xl font-bold">This house is open</h1>
      <p class="mb-4 text-muted">
        It was opened once, and that is for good. Sign in, or ask an administrator to invite you.
      </p>
      <RouterLink to="/sign-in" class="btn btn-go">Sign in</RouterLink>
    </template>
    <form v-else-if="offered" @submit.prevent="open">
      <h1 class="mb-1 text-xl font-bold">Open your house</h1>
      <p class="mb-6 max-w-prose text-muted">
        Say where and when you work, and who you are. Contacts, deals and tickets are there at once; everything can be
        changed later in the set-up.
      </p>
      <div class="grid gap-x-10 md:grid-cols-2">
        <section>
          <h2 class="mb-3 text-base font-semibold">The house</h2>
          <FormRow v-slot="{ id, describedby }" label="What it is called" :wrong="wrong.name">
            <input
              :id="id"
              v-model="name"
              class="input"
              maxlength="80"
              required
              autocomplete="organization"
              :aria-describedby="describedby"
            />
          </FormRow>
          <FormRow v-slot="{ id, describedby }" label="Time zone" :wrong="wrong.zone">
            <PickOne
              :id="id"
              v-model="zone"
              label="Time zone"
              :options="zones"
              placeholder="Type a town, such as Riga"
              :describedby="describedby"
            />
          </FormRow>
          <FormRow
            v-slot="{ id, describedby }"
            label="Public holidays"
            :wrong="wrong.holidays"
            hint="Nobody is expected to work on them, and no working day is counted."
          >
            <PickOne
              :id="id"
              v-model="holidays"
              label="Public holidays"
              :options="regions"
              blank="None"
              :describedby="describedby"
            />
          </FormRow>
          <FormRow v-slot="{ id, describedby }" label="Currency" :wrong="wrong.currency">
            <PickOne :id="id" v-model="currency" label="Currency" :options="currencies" :describedby="describedby" />
          </FormRow>
          <FormRow label="Working hours" plain :wrong="wrong.hours"><HoursTable v-model="hours" /></FormRow>
        </section>
        <section>
          <h2 class="mb-3 text-base font-semibold">You, its first administrator</h2>
          <FormRow v-slot="{ id, describedby }" label="Your name" :wrong="wrong['person.name']">
            <input
              :id="id"
              v-model="person.name"
              class="input"
              maxlength="120"
              required
              autocomplete="name"
              :aria-describedby="describedby"
            />
          </FormRow>
          <FormRow
            v-slot="{ id, describedby }"
            label="E-mail address"
            :wrong="wrong['person.email']"
            hint="You sign in with it."
          >
            <input
              :id="id"
              v-model="person.email"
              type="email"
              class="input"
              maxlength="190"
              required
              autocomplete="username"
              :aria-describedby="describedby"
            />
          </FormRow>
          <NewPassword v-model="person.password" :wrong="wrong['person.password']" />
          <FormRow
            v-slot="{ id, describedby }"
            label="One-time code"
            :wrong="wrong.code"
            hint="It was printed where Yenvo was started, and is good for an hour."
          >
            <input
              :id="id"
              v-model="code"
              class="input font-mono"
              maxlength="100"
              required
              autocomplete="off"
              spellcheck="false"
              :aria-describedby="describedby"
            />
          </FormRow>
          <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
          <button type="submit" class="btn btn-go" :aria-busy="busy">
            {{ busy ? 'Opening' : 'Open the house' }}
          </button>
        </section>
      </div>
    </form>
  </OutsidePage>
</template>

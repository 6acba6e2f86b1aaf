<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, sentenceOf } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import OutsidePage from '@/parts/OutsidePage.vue'
import { useSession } from '@/state/session'

const SecondStepSetup = defineAsyncComponent(() => import('@/parts/SecondStepSetup.vue'))
const { session, signIn, signOut, load } = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)
const named = computed(() => (session.value && session.value.house !== 'Yenvo' ? ` to ${session.value.house}` : ''))
const demo = computed(() => session.value?.demo ?? [])

/** What is missing after the password: a code, or a second step that the role needs. */
const missing = computed(() => session.value?.missing_step ?? null)
const code = ref('')
const recovering = ref(false)

async function goOn() {
  if (missing.value) return
  const to =
    typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//')
      ? route.query.to
      : '/worklist'
  await router.push(to)
}
async function attempt(act: () => Promise<unknown>) {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    await act()
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
const enter = () => attempt(() => signIn(email.value, password.value).then(goOn))
const enterCode = () =>
  attempt(async () => {
    await answerOf(
      recovering.value
        ? api.POST('/api/recovery-auth', { body: { code: code.value.trim().toLowerCase() } })
        : api.POST('/api/otp-auth', { body: { otp: code.value } }),
    )
    code.value = ''
    await load()
    await goOn()
  })
const another = () =>
  attempt(async () => {
    await signOut()
    code.value = password.value = ''
    recovering.value = false
  })
const setUp = () => attempt(() => load().then(goOn))
function turn() {
  recovering.value = !recovering.value
  code.value = wrong.value = ''
}

function enterAs(address: string) {
  email.value = address
  password.value = session.value?.demo_password ?? ''
  void enter()
}
</script>

<template>
  <OutsidePage
    ><div class="grid gap-8 md:grid-cols-2">
      <section v-if="missing === 'code'">
        <h1 class="mb-1 text-xl font-bold">The second step</h1>
        <p class="mb-5 text-muted">
          {{ recovering ? 'One of the recovery codes that you kept.' : 'The code that your authenticator shows now.' }}
        </p>
        <form class="max-w-sm" @submit.prevent="enterCode">
          <FormRow v-slot="{ id, describedby }" :label="recovering ? 'Recovery code' : 'Code'" :wrong="wrong">
            <input
              :id="id"
              :key="String(recovering)"
              v-model="code"
              class="input font-mono"
              :class="recovering ? '!w-48' : '!w-32'"
              :inputmode="recovering ? 'text' : 'numeric'"
              :autocomplete="recovering ? 'off' : 'one-time-code'"
              maxlength="20"
              required
              :aria-invalid="wrong ? true : undefined"
              :aria-describedby="describedby"
            />
          </FormRow>
          <button type="submit" class="btn btn-go" :aria-busy="busy">Go on</button>
          <button type="button" class="link ml-4" @click="turn">
            {{ recovering ? 'Use the authenticator' : 'Use a recovery code' }}
          </button>
          <p class="mt-5"><button type="button" class="link" @click="another">Sign in as somebody else</button></p>
        </form>
      </section>
      <section v-else-if="missing === 'set_up'" class="md:col-span-2">
        <h1 class="mb-1 text-xl font-bold">Set up a second step</h1>
        <p class="mb-5 max-w-prose text-muted">
          Your role needs one: from now on you sign in with your password and a code that changes every half minute.
        </p>
        <SecondStepSetup :password="password || undefined" @done="setUp">
          <button type="button" class="link ml-4" @click="another">Sign in as somebody else</button>
        </SecondStepSetup>
      </section>
      <section v-else>
        <h1 class="mb-1 text-xl font-bold">Sign in{{ named }}</h1>
        <p class="mb-5 text-muted">Rules that make the next task, and the tasks themselves.</p>
        <form class="max-w-sm" @submit.prevent="enter">
          <FormRow v-slot="{ id }" label="E-mail address">
            <input :id="id" v-model="email" type="email" class="input" autocomplete="username" required />
          </FormRow>
          <FormRow v-slot="{ id, describedby }" label="Password" :wrong="wrong">
            <input
              :id="id"
              v-model="password"
              type="password"
              class="input"
              autocomplete="current-password"
              required
              :aria-invalid="wrong ? true : undefined"
              :aria-describedby="describedby"
            />
          </FormRow>
          <button type="submit" class="btn btn-go" :aria-busy="busy">{{ busy ? 'Signing in' : 'Sign in' }}</button>
          <RouterLink to="/forgotten" class="ml-4">Forgotten?</RouterLink>
        </form>
      </section>
      <section v-if="demo.length && !missing">
        <h2 class="mb-1 text-base font-semibold">Fennick Sound Boatyard, a demonstration</h2>
        <p class="mb-3 text-muted">
          All of it is invented. Choose whom to be; the password of all is “{{ session?.demo_password }}”.
        </p>
        <table class="ledger border border-line">
          <thead>
            <tr>
              <th>Person</th>
              <th>May</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="person in demo" :key="person.email">
              <td>
                <button type="button" class="link font-semibold" @click="enterAs(person.email)">
                  {{ person.name }}
                </button>
              </td>
              <td class="text-muted">
                {{
                  {
                    administrator: 'write rules, work tasks',
                    lead: 'work and pass on all tasks',
                    member: 'work tasks',
                  }[person.role]
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div></OutsidePage
  >
</template>

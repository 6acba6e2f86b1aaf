<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { sentenceOf } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import OutsidePage from '@/parts/OutsidePage.vue'
import { useSession } from '@/state/session'

const { session, signIn } = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)
const named = computed(() => (session.value && session.value.house !== 'Yenvo' ? ` to ${session.value.house}` : ''))
const demo = computed(() => session.value?.demo ?? [])

async function enter() {
  busy.value = true
  wrong.value = ''
  try {
    await signIn(email.value, password.value)
    const to =
      typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//')
        ? route.query.to
        : '/worklist'
    await router.push(to)
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
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
      <section>
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
          <button type="submit" class="btn btn-go" :disabled="busy">{{ busy ? 'Signing in' : 'Sign in' }}</button>
          <RouterLink to="/forgotten" class="ml-4">Forgotten?</RouterLink>
        </form>
      </section>
      <section v-if="demo.length">
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

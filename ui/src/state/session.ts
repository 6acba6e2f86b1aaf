import { computed, ref } from 'vue'
import { answerOf, api, fetchSession, type Schemas } from '@/api/client'

const session = ref<Schemas['Session'] | null>(null)

/** Who is signed in and what they may do. */
export function useSession() {
  return {
    session,
    person: computed(() => session.value?.person ?? null),
    mayWriteRules: computed(() => session.value?.may.write_rules ?? false),
    isLead: computed(() => session.value?.may.lead ?? false),
    load: async () => (session.value = await fetchSession()),
    /** @throws ApiError with a sentence when address or password are not right */
    async signIn(email: string, password: string) {
      await fetchSession()
      await answerOf(api.POST('/api/sign-in', { body: { email, password } }))
      session.value = await fetchSession()
    },
    async signOut() {
      await answerOf(api.POST('/api/sign-out', {}))
      session.value = await fetchSession()
    },
    forget: () => (session.value = session.value && { ...session.value, person: null }),
  }
}

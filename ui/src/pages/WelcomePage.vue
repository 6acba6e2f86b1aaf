<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, fetchSession, sentenceOf } from '@/api/client'
import NewPassword from '@/parts/NewPassword.vue'
import OutsidePage from '@/parts/OutsidePage.vue'
import { useSession } from '@/state/session'

/** Where a one-time link leads: somebody who was invited, or has forgotten their password, chooses one. The key comes
 * behind the # of the address, where no server and no log sees it. */
const route = useRoute()
const router = useRouter()
const { load } = useSession()
const key = ref('')
watch(
  () => route.hash,
  (hash) => hash && (key.value = hash.slice(1)),
  { immediate: true },
)
const password = ref('')
const wrong = ref('')
const busy = ref(false)

async function choose() {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    await fetchSession()
    await answerOf(api.POST('/api/reset-password', { body: { key: key.value, password: password.value } }))
    const session = await load()
    await router.push(session.missing_step ? '/sign-in' : '/worklist')
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <OutsidePage>
    <h1 class="mb-1 text-xl font-bold">Choose your password</h1>
    <p class="mb-5 max-w-prose text-muted">Nobody else sees it. You sign in with it and your e-mail address.</p>
    <p v-if="!key" class="text-red" role="alert">
      This address lacks its end. Open the whole link that you were sent, or ask an administrator for another.
    </p>
    <form v-else class="max-w-sm" @submit.prevent="choose">
      <NewPassword v-model="password" :wrong="wrong" />
      <button type="submit" class="btn btn-go" :aria-busy="busy">
        {{ busy ? 'Setting it' : 'Set it and sign in' }}
      </button>
    </form>
  </OutsidePage>
</template>

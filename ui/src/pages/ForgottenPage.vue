<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, fetchSession, sentenceOf } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import OutsidePage from '@/parts/OutsidePage.vue'

/** Asks for a link with which a new password is chosen. What it answers tells nobody who works here. */
const email = ref('')
const asked = ref(false)
const byMail = ref(false)
const wrong = ref('')
const busy = ref(false)

async function ask() {
  // A press that was disabled meanwhile would lose the keys.
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    await fetchSession()
    const { mailed } = await answerOf(api.POST('/api/forgotten', { body: { email: email.value.trim() } }))
    asked.value = true
    byMail.value = mailed
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <OutsidePage>
    <h1 class="mb-1 text-xl font-bold">Forgotten your password?</h1>
    <template v-if="asked">
      <p class="mb-5 max-w-prose" role="status">
        <template v-if="byMail"
          >If somebody signs in with that address here, a mail is on its way to it, with a link that is good for an
          hour.</template
        >
        <template v-else
          >If somebody signs in with that address here, the administrators have been told. One of them makes a link,
          good for an hour, with which a new password is chosen.</template
        >
      </p>
      <RouterLink to="/sign-in" class="btn">Back to signing in</RouterLink>
    </template>
    <form v-else class="max-w-sm" @submit.prevent="ask">
      <p class="mb-5 text-muted">
        You get a link by mail with which you choose another, or from an administrator where the house sends no mail.
      </p>
      <FormRow v-slot="{ id, describedby }" label="E-mail address" :wrong="wrong">
        <input
          :id="id"
          v-model="email"
          type="email"
          class="input"
          maxlength="190"
          required
          autocomplete="username"
          :aria-describedby="describedby"
        />
      </FormRow>
      <div class="flex items-center gap-4">
        <button type="submit" class="btn btn-go" :aria-busy="busy">Ask for a link</button>
        <RouterLink to="/sign-in">Back to signing in</RouterLink>
      </div>
    </form>
  </OutsidePage>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, sentenceOf } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import QrCode from '@/parts/QrCode.vue'
import RecoveryCodes from '@/parts/RecoveryCodes.vue'

/** Sets a second step up: password, a secret for an authenticator, a code made of it, then the recovery codes. */
const props = defineProps<{ password?: string }>()
const emit = defineEmits<{ done: [] }>()
const password = ref(props.password ?? '')
const offered = ref<{ uri?: string; otp_secret?: string; otp_raw_secret?: string } | null>(null)
const code = ref('')
const codes = ref<string[] | null>(null)
const wrong = ref('')
const busy = ref(false)

async function attempt(act: () => Promise<unknown>) {
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
const begin = () => attempt(async () => (offered.value = await answerOf(api.POST('/api/otp-setup', { body: {} }))))
const finish = () =>
  attempt(async () => {
    const { otp_secret, otp_raw_secret } = offered.value!
    const body = { password: password.value, otp: code.value, otp_secret, otp_raw_secret }
    codes.value = (await answerOf(api.POST('/api/otp-setup', { body }))).codes ?? []
  })
/** The secret in groups, for those who type it. */
const grouped = (secret = '') =>
  secret
    .toUpperCase()
    .match(/.{1,4}/g)
    ?.join(' ') ?? ''
void begin()
</script>

<template>
  <RecoveryCodes v-if="codes" :codes="codes" @done="emit('done')" />
  <form v-else class="max-w-md" @submit.prevent="finish">
    <p class="mb-3">
      1. Read this with an authenticator on your phone: any program for one-time codes will do. Or type the secret
      there.
    </p>
    <div v-if="offered" class="mb-4 flex flex-wrap items-center gap-4">
      <QrCode :text="offered.uri!" label="The secret as a picture, for an authenticator to read" />
      <code class="max-w-44 font-mono text-sm break-words select-all" data-test="secret">{{
        grouped(offered.otp_secret)
      }}</code>
    </div>
    <FormRow
      v-slot="{ id, describedby }"
      label="2. The code it shows now"
      hint="Six digits; another every half minute."
    >
      <input
        :id="id"
        v-model="code"
        class="input !w-32 font-mono"
        inputmode="numeric"
        autocomplete="one-time-code"
        maxlength="20"
        required
        :aria-describedby="describedby"
      />
    </FormRow>
    <FormRow v-if="props.password === undefined" v-slot="{ id }" label="3. Your password">
      <input
        :id="id"
        v-model="password"
        type="password"
        class="input"
        autocomplete="current-password"
        maxlength="200"
        required
      />
    </FormRow>
    <p v-if="wrong" class="mb-3 text-red" role="alert">
      {{ wrong }} <button v-if="!offered" type="button" class="link" @click="begin">Try again</button>
    </p>
    <button type="submit" class="btn btn-go" :aria-busy="busy">Set it up</button>
    <slot />
  </form>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'

/** A mail that somebody outside writes to the house. */
const { say, attempt } = useNotices()
const open = ref(false)
const busy = ref(false)
const from = ref('Juno Blythe <juno.blythe@post.example>')
const to = ref('snags@fennick.example')
const subject = ref('')
const text = ref('')
async function send() {
  busy.value = true
  try {
    await attempt(async () => {
      const body = { from: from.value, to: to.value, subject: subject.value, text: text.value }
      const { said } = await answerOf(api.POST('/api/stand-ins/mail', { body }))
      say(`The mail server says: ${said}`)
      open.value = false
      subject.value = text.value = ''
    })
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <button v-if="!open" type="button" class="btn mb-2" @click="open = true">Write to the house</button>
  <form v-else class="mb-3 border border-line bg-paper p-3" @submit.prevent="send">
    <FormRow v-slot="{ id }" label="From"><input :id="id" v-model="from" class="input" maxlength="200" /></FormRow>
    <FormRow v-slot="{ id }" label="To"
      ><input :id="id" v-model="to" class="input" type="email" maxlength="200"
    /></FormRow>
    <FormRow v-slot="{ id }" label="Subject"
      ><input :id="id" v-model="subject" class="input" maxlength="300"
    /></FormRow>
    <FormRow v-slot="{ id }" label="Text">
      <textarea :id="id" v-model="text" class="input" rows="4" maxlength="20000" />
    </FormRow>
    <div class="flex gap-2">
      <button type="submit" class="btn btn-go" :aria-busy="busy" :disabled="!text.trim()">Send the mail</button>
      <button type="button" class="btn btn-quiet" @click="open = false">Not now</button>
    </div>
  </form>
</template>

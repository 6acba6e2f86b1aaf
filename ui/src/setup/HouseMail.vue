<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import { useChange } from './useChange'

/** From which address the house sends mail, and how much of it within a minute. */
const props = defineProps<{ page: Schemas['OutboxPage'] }>()
const emit = defineEmits<{ changed: [] }>()
const { say } = useNotices()
const { wrong, busy, send } = useChange()
const from = ref('')
const perMinute = ref('')
watch(
  () => [props.page.from, props.page.per_minute] as const,
  ([address, most]) => {
    from.value = address ?? ''
    perMinute.value = most?.toString() ?? ''
  },
  { immediate: true },
)
async function save() {
  const most = perMinute.value.trim() ? Number(perMinute.value) : null
  if (most !== null && !Number.isInteger(most)) {
    wrong.value = { per_minute: 'It takes a whole number from 1 to 10,000, or nothing.' }
    return
  }
  const body = { from: from.value.trim() || null, per_minute: most }
  if (!(await send(() => answerOf(api.PUT('/api/outbox/from', { body }))))) return
  say(body.from ? `Mail is sent from ${body.from}.` : 'The house sends no mail.')
  emit('changed')
}
async function tryMail() {
  if (!(await send(() => answerOf(api.POST('/api/outbox/try', {}))))) return
  say('A mail to you is on its way.')
  emit('changed')
}
</script>

<template>
  <form class="mb-4 max-w-xl" @submit.prevent="save">
    <div class="grid gap-x-3 sm:grid-cols-[1fr_12rem]">
      <FormRow
        v-slot="{ id, describedby }"
        label="Mail is sent from"
        :wrong="wrong.from ?? wrong['']"
        hint="An address of the house. Invitations and links for a new password go by mail then."
        ><input :id="id" v-model="from" type="email" class="input" maxlength="200" :aria-describedby="describedby"
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        label="Mails a minute, at most"
        :wrong="wrong.per_minute"
        hint="Left empty, as many as there are."
        ><input
          :id="id"
          v-model="perMinute"
          class="input !w-24"
          inputmode="numeric"
          maxlength="6"
          :aria-describedby="describedby"
      /></FormRow>
    </div>
    <div class="flex flex-wrap gap-2">
      <button type="submit" class="btn" :aria-busy="busy">Save the address</button>
      <button v-if="!page.missing" type="button" class="btn btn-quiet" :aria-busy="busy" @click="tryMail">
        Send a mail to me
      </button>
    </div>
    <p v-if="page.missing" class="mt-2 text-amber">{{ page.missing }}</p>
  </form>
</template>

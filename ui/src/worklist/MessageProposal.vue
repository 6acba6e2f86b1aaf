<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import { useSetup } from '@/state/setup'

/** A message that a rule filled in: it is changed, then leaves or is thrown away. */
const props = defineProps<{ proposal: Schemas['Proposal']; message: Schemas['ProposedMessage'] }>()
const emit = defineEmits<{ close: []; settled: [] }>()
const { say } = useNotices()
const { moment } = useDates()
const { now } = useSetup()
const subject = ref('')
const text = ref('')
const wrong = ref<Record<string, string>>({})
const busy = ref(false)
watch(
  () => props.message,
  (one) => {
    subject.value = one.subject
    text.value = one.text ?? ''
    wrong.value = {}
  },
  { immediate: true },
)
const path = () => ({ params: { path: { id: props.proposal.id } } })
async function settle(act: () => Promise<unknown>, words: string) {
  busy.value = true
  wrong.value = {}
  try {
    await act()
    say(words)
    emit('settled')
  } catch (problem) {
    wrong.value = (problem instanceof ApiError && problem.refusal.fields) || { '': sentenceOf(problem) }
  } finally {
    busy.value = false
  }
}
const words = () => ({
  ...(props.message.way === 'mail' ? { subject: subject.value } : {}),
  ...(props.message.way === 'call' ? {} : { text: text.value }),
})
const send = () =>
  settle(
    () => answerOf(api.POST('/api/proposals/{id}/send-message', { ...path(), body: { message: words() } })),
    'It is on its way.',
  )
const throwAway = () =>
  settle(() => answerOf(api.POST('/api/proposals/{id}/throw', path())), 'Thrown away. Nothing leaves.')
</script>

<template>
  <form @submit.prevent="send">
    <p class="mb-3 text-muted">
      “{{ proposal.rule.name }}” filled it in<template v-if="proposal.record"> for {{ proposal.record.title }}</template
      >. Nothing leaves before you send it; then it leaves
      {{
        Date.parse(message.leaves_at) > now().getTime() ? `${moment(message.leaves_at)} at the earliest` : 'at once'
      }}.
    </p>
    <p class="mb-3 break-words">
      {{ message.way === 'mail' ? 'To' : message.way === 'board' ? 'On the board' : 'A call to' }}
      <b class="font-semibold">{{ message.to }}</b><template v-if="message.cc">, copy to {{ message.cc }}</template>
    </p>
    <FormRow v-if="message.way === 'mail'" v-slot="{ id, describedby }" label="Subject" :wrong="wrong.subject"
      ><input :id="id" v-model="subject" class="input" maxlength="300" :aria-describedby="describedby"
    /></FormRow>
    <FormRow v-if="message.way !== 'call'" v-slot="{ id, describedby }" label="What it says" :wrong="wrong.text">
      <textarea :id="id" v-model="text" class="input" rows="9" maxlength="20000" :aria-describedby="describedby" />
    </FormRow>
    <p v-if="message.files.length" class="mb-3 break-all">
      <span class="text-muted">Attached:</span> {{ message.files.join(', ') }}
    </p>
    <p v-if="wrong[''] ?? wrong.message" class="mb-3 text-red" role="alert">{{ wrong[''] ?? wrong.message }}</p>
    <div class="flex flex-wrap gap-2">
      <button type="submit" class="btn btn-go" :disabled="busy">Send it</button>
      <button type="button" class="btn" :disabled="busy" @click="throwAway">Throw it away</button>
      <button type="button" class="btn btn-quiet ml-auto" @click="emit('close')">Later</button>
    </div>
  </form>
</template>

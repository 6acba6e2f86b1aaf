<script setup lang="ts">
import { onUnmounted, ref, watch } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import DialogBox from '@/parts/DialogBox'
import { useSetup } from '@/state/setup'
import { LETTER_STATES, MESSAGE_STATES } from './types'

/** A message as it went, or will go, with each try and its answer. */
const props = defineProps<{ id: number | null }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const { moment } = useDates()
const { now } = useSetup()
const found = ref<Schemas['MessageWhole'] | null>(null)
const wrong = ref('')

async function read() {
  try {
    const params = { path: { id: props.id! } }
    found.value = await answerOf(api.GET('/api/outbox/{id}', { params }))
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
watch(
  () => props.id,
  (id) => {
    found.value = null
    wrong.value = ''
    if (id !== null) void read()
  },
)
/** While it waits to leave within moments, how it fares is looked at again and again. */
const SOON = 180_000
const timer = window.setInterval(() => {
  const one = found.value?.message
  if (one?.state === 'waiting' && Date.parse(one.due_at) - now().getTime() < SOON) void read()
}, 1500)
onUnmounted(() => window.clearInterval(timer))

async function step(what: 'stop' | 'again') {
  wrong.value = ''
  const params = { path: { id: props.id! } }
  try {
    await answerOf<unknown>(
      what === 'stop' ? api.POST('/api/outbox/{id}/stop', { params }) : api.POST('/api/outbox/{id}/again', { params }),
    )
    emit('changed')
  } catch (problem) {
    wrong.value = (problem instanceof ApiError && Object.values(problem.refusal.fields ?? {})[0]) || sentenceOf(problem)
  }
  await read()
}
</script>

<template>
  <DialogBox :open="id !== null" :title="found?.message.subject ?? 'A message'" wide @close="emit('close')">
    <template v-if="found">
      <p class="mb-2">
        To <b class="font-semibold break-all">{{ found.message.to }}</b><template v-if="found.cc"
          >, copy to {{ found.cc }}</template
        ><template v-if="found.reply_to">, answers to {{ found.reply_to }}</template
        >, {{ MESSAGE_STATES[found.message.back_at ? 'back' : found.message.state]
        }}<template v-if="found.message.state === 'waiting'"> until {{ moment(found.message.due_at) }}</template>
      </p>
      <p v-if="found.message.rule || found.message.record" class="mb-2 text-muted">
        Written<template v-if="found.message.rule">
          by <RouterLink :to="`/rules/${found.message.rule.id}`">{{ found.message.rule.name }}</RouterLink></template
        ><template v-if="found.message.record">
          about
          <RouterLink :to="`/record/${found.message.record.id}`">{{ found.message.record.title }}</RouterLink></template
        ><template v-if="found.message.run_id">
          · <RouterLink :to="`/trail?run=${found.message.run_id}`">its run</RouterLink></template
        >
      </p>
      <p
        tabindex="0"
        class="mb-3 max-h-72 overflow-auto border border-line bg-paper px-3 py-2 break-words whitespace-pre-wrap"
        :class="found.message.way === 'call' ? 'font-mono text-xs' : ''"
      >
        {{ found.text }}
      </p>
      <p v-if="found.files.length" class="mb-3 break-all">
        <span class="text-muted">Attached:</span> {{ found.files.join(', ') }}
      </p>
      <ul v-if="found.tries.length" class="mb-3">
        <li v-for="one in found.tries" :key="one.at" class="border-b border-line py-1">
          <span class="text-muted">{{ moment(one.at) }}</span> {{ one.sent ? 'taken' : 'not taken' }}:
          <span class="break-words">{{ one.answer }}</span>
        </li>
      </ul>
      <ul v-if="found.letters.length" class="mb-3" aria-label="What came for it by mail">
        <li v-for="one in found.letters" :key="one.id" class="border-b border-line py-1">
          <span class="text-muted">{{ moment(one.at) }}</span> {{ one.name ?? one.sender }}:
          {{ LETTER_STATES[one.state] }}
        </li>
      </ul>
    </template>
    <p v-if="wrong" class="mb-3 text-red" role="alert">{{ wrong }}</p>
    <div class="flex flex-wrap gap-2">
      <button v-if="found?.message.state === 'waiting'" type="button" class="btn" @click="step('stop')">Stop it</button>
      <button v-if="found && found.message.state !== 'sent'" type="button" class="btn" @click="step('again')">
        {{ found.message.state === 'waiting' ? 'Send it now' : 'Send it again' }}
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
  </DialogBox>
</template>

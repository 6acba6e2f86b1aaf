<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useNotices } from '@/lib/useNotices'

/** Lets whoever got a mail answer it, be away, or have no mailbox. */
const props = defineProps<{ id: string; to: string }>()
const { say, attempt } = useNotices()
const open = ref(false)
const text = ref('')
const busy = ref(false)
async function send(how: 'answer' | 'away' | 'back') {
  busy.value = true
  try {
    await attempt(async () => {
      const body = { id: props.id, how, text: text.value }
      const { said } = await answerOf(api.POST('/api/stand-ins/mail', { body }))
      say(`The mail server says: ${said}`)
    })
    open.value = false
    text.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div v-if="!open" class="mt-1 flex flex-wrap gap-x-3 text-sm">
    <button type="button" class="link" @click="open = true">Answer it</button>
    <button type="button" class="link" :aria-busy="busy" @click="send('away')">Be away</button>
    <button type="button" class="link" :aria-busy="busy" @click="send('back')">Have no mailbox</button>
  </div>
  <form v-else class="mt-1" @submit.prevent="send('answer')">
    <textarea v-model="text" class="input" rows="3" :aria-label="`What ${to} answers`" />
    <div class="mt-1 flex gap-2">
      <button type="submit" class="btn btn-go" :aria-busy="busy" :disabled="!text.trim()">Send the answer</button>
      <button type="button" class="btn btn-quiet" @click="open = false">Not now</button>
    </div>
  </form>
</template>

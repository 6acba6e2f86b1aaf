<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'

/** A message as it would read, with when it would leave. */
defineProps<{ message: NonNullable<Schemas['Plan']['effects'][number]['message']> }>()
const { moment } = useDates()
</script>

<template>
  <div class="my-1 border border-line bg-paper px-3 py-2" data-test="message">
    <p class="break-words">
      <span class="text-muted">To</span> {{ message.to
      }}<template v-if="message.cc"> <span class="text-muted">· copy to</span> {{ message.cc }}</template
      ><template v-if="message.reply_to"> <span class="text-muted">· answers to</span> {{ message.reply_to }}</template>
    </p>
    <p v-if="message.subject" class="font-semibold break-words">{{ message.subject }}</p>
    <p v-if="message.text" class="break-words whitespace-pre-line">{{ message.text }}</p>
    <p v-if="message.attach.length" class="text-muted">
      Attached:
      {{
        message.attach.map((one) => (one === 'papers' ? 'the papers of this run' : 'the files of the task')).join(', ')
      }}
    </p>
    <p class="text-muted">Would leave {{ moment(message.leaves_at) }} at the earliest.</p>
  </div>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import TroubleBox from '@/parts/TroubleBox.vue'
import { LETTER_STATES } from './types'

/** What came in by mail, the newest first, and what became of each. */
const { moment } = useDates()
const rows = ref<Schemas['Letter'][]>([])
const more = ref(false)
const read = ref(false)
const trouble = ref('')
async function load(before?: number) {
  trouble.value = ''
  try {
    const query = before ? { before: String(before) } : {}
    const page = await answerOf(api.GET('/api/mail-doors/letters', { params: { query } }))
    rows.value = before ? [...rows.value, ...page.rows] : page.rows
    more.value = page.more
    read.value = true
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
void load()
useLive(() => rows.value.length <= 50 && void load())
</script>

<template>
  <section class="mt-6" aria-label="What came in">
    <h3 class="mb-1">What came in</h3>
    <TroubleBox v-if="trouble" :text="trouble" @retry="load()" />
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>When</th>
            <th>From</th>
            <th>Subject</th>
            <th>What became of it</th>
            <th>Record</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in rows" :key="one.id">
            <td class="whitespace-nowrap">{{ moment(one.at) }}</td>
            <td class="break-words">{{ one.name ?? one.sender }}</td>
            <td class="break-words">{{ one.subject }}</td>
            <td class="min-w-[12rem]">
              <span :class="one.state === 'waiting' || one.state === 'unknown' ? 'font-semibold text-amber' : ''">{{
                LETTER_STATES[one.state]
              }}</span>
              <span v-if="one.reason" class="block text-sm break-words text-muted">{{ one.reason }}</span>
            </td>
            <td>
              <RouterLink v-if="one.record" :to="`/record/${one.record.id}`">{{ one.record.title }}</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
      <button v-if="more" type="button" class="btn mt-3" @click="load(rows.at(-1)!.id)">Show earlier</button>
    </div>
    <p v-else-if="read" class="text-muted">Nothing has come in by mail yet.</p>
  </section>
</template>

<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'

/** The private address under which one's tasks are read by a calendar program; made, made anew and ended by a press. */
const { say, attempt } = useNotices()
const { copy } = useClipboard({ legacy: true })
const { data, reload } = useLoaded(() => answerOf(api.GET('/api/me/calendar')))
const events = ref(false)
const address = computed(() => (data.value?.address ? location.origin + data.value.address : ''))
async function make() {
  const body = { events: events.value }
  if (await attempt(() => answerOf(api.POST('/api/me/calendar', { body })), 'Your calendar has a new address.'))
    await reload()
}
async function end() {
  if (await attempt(() => answerOf(api.DELETE('/api/me/calendar')), 'The address of your calendar is ended.'))
    await reload()
}
async function copied() {
  await copy(address.value)
  say('The address is copied.')
}
</script>

<template>
  <section v-if="data" class="mb-8 min-w-0" aria-labelledby="own-calendar">
    <h2 id="own-calendar" class="mb-1 text-lg font-semibold">Your tasks in a calendar</h2>
    <p class="mb-2 max-w-xl text-muted">
      Calendar programs read your open tasks under a private address. Whoever knows it reads them too; a new one shuts
      out all who have the one before.
    </p>
    <p v-if="address" class="mb-2">
      <code class="font-mono text-sm break-all select-all">{{ address }}</code>
      {{ ' ' }}<button type="button" class="link" @click="copied">Copy</button>
    </p>
    <label class="mb-2 flex items-center gap-2"
      ><input v-model="events" type="checkbox" />tasks with a date stand in the calendar as events, too</label
    >
    <div class="flex gap-2">
      <button type="button" class="btn" @click="make">{{ address ? 'Make a new address' : 'Make an address' }}</button>
      <button v-if="address" type="button" class="btn btn-quiet" @click="end">End it</button>
    </div>
  </section>
</template>

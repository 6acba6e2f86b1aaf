<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { counted } from '@/lib/words'

/** Days off of the house's own: typed in, once or each year, or read from a calendar file. */
const props = defineProps<{ today: string; wrong?: string }>()
const rows = defineModel<Schemas['FreeDays'][]>({ required: true })
const said = ref('')
const trouble = ref('')
const MOST_BYTES = 1_000_000

const change = (index: number, changes: Partial<Schemas['FreeDays']>) =>
  (rows.value = rows.value.map((row, place) => (place === index ? { ...row, ...changes } : row)))
const add = () => (rows.value = [...rows.value, { from: props.today, to: props.today, name: '', yearly: false }])
const same = (one: Schemas['FreeDays'], other: Schemas['FreeDays']) =>
  one.from === other.from && one.to === other.to && one.name === other.name

async function readFile(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  said.value = trouble.value = ''
  if (!file) return
  if (file.size > MOST_BYTES) {
    trouble.value = 'A calendar file has at most 1 MB; this one is larger.'
    return
  }
  try {
    const text = await file.text()
    const found = await answerOf(api.POST('/api/setup/house/file', { body: { text } }))
    const fresh = found.days_off.filter((one) => !rows.value.some((row) => same(row, one)))
    rows.value = [...rows.value, ...fresh]
    const known = found.days_off.length - fresh.length
    said.value = [
      `${counted(fresh.length, 'entry', 'entries')} from ${file.name} stand in the list now; look, then save.`,
      known ? `${counted(known, 'was', 'were')} there already.` : '',
      found.left_out ? `${counted(found.left_out, 'event')} left out, since they take only part of a day.` : '',
    ].join(' ')
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
</script>

<template>
  <fieldset class="mb-3 min-w-0">
    <legend class="lab mb-1">Days off of your own</legend>
    <div
      v-for="(row, index) in rows"
      :key="index"
      class="mb-2 flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-line pb-2 sm:border-0 sm:pb-0"
    >
      <input
        class="input !w-full sm:!w-52"
        :value="row.name"
        maxlength="80"
        placeholder="Workshop shut"
        :aria-label="`What day off ${index + 1} is called`"
        @input="change(index, { name: ($event.target as HTMLInputElement).value })"
      />
      <input
        type="date"
        class="input !w-[8.6rem]"
        :value="row.from"
        :aria-label="`First day of ${row.name || index + 1}`"
        @change="change(index, { from: ($event.target as HTMLInputElement).value })"
      />
      <span>to</span>
      <input
        type="date"
        class="input !w-[8.6rem]"
        :value="row.to"
        :aria-label="`Last day of ${row.name || index + 1}`"
        @change="change(index, { to: ($event.target as HTMLInputElement).value })"
      />
      <label class="flex items-center gap-1"
        ><input
          type="checkbox"
          :checked="row.yearly"
          @change="change(index, { yearly: ($event.target as HTMLInputElement).checked })"
        />each year</label
      >
      <button
        type="button"
        class="link text-sm"
        :aria-label="`Take away ${row.name || index + 1}`"
        @click="rows = rows.filter((_, place) => place !== index)"
      >
        Take away
      </button>
    </div>
    <p v-if="wrong" class="mb-1 text-sm text-red" role="alert">{{ wrong }}</p>
    <div class="flex flex-wrap items-center gap-4">
      <button type="button" class="link" @click="add">Add days off</button>
      <label class="link cursor-pointer focus-within:outline focus-within:outline-focus"
        >Read a calendar file (.ics)<input type="file" accept=".ics,text/calendar" class="sr-only" @change="readFile"
      /></label>
    </div>
    <p v-if="said" class="mt-1 text-sm" role="status">{{ said }}</p>
    <p v-if="trouble" class="mt-1 text-sm text-red" role="alert">{{ trouble }}</p>
  </fieldset>
</template>

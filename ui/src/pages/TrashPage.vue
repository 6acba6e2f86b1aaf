<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, sentenceOf } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import EraseDialog from '@/record/EraseDialog.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** What was taken away within 30 days, the newest first, to be brought back with all that hung on it. */
type Row = {
  id: number
  kind: string
  title: string
  by: string | null
  at: string
  until: string
  may_bring_back: boolean
}
const { moment, day } = useDates()
const { nameOf, kindOf } = useSetup()
const { attempt } = useNotices()
const { mayWriteRules: mayErase } = useSession()
const asked = ref<Row>()
const rows = ref<Row[]>([])
const more = ref(false)
const read = ref(false)
const trouble = ref('')
async function load(last?: Row) {
  trouble.value = ''
  try {
    const query = last ? { at: last.at, id: String(last.id) } : {}
    const page = await answerOf(api.GET('/api/trash', { params: { query } }))
    rows.value = last ? [...rows.value, ...page.rows] : page.rows
    more.value = page.more
    read.value = true
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
void load()
function erased() {
  asked.value = undefined
  void load()
}
async function bringBack(row: Row) {
  const params = { path: { id: row.id } }
  if (await attempt(() => answerOf(api.POST('/api/records/{id}/trash', { params })), `“${row.title}” is back.`))
    await load()
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Trash</h1>
    <span class="text-muted"
      >What was taken away comes back whole within 30 days: notes, files, links, tasks, kits, places on lists. Then it
      is erased for good.</span
    >
  </div>
  <TroubleBox v-if="trouble" :text="trouble" class="m-5" @retry="load()" />
  <div v-else class="overflow-x-auto p-3 sm:p-5">
    <table v-if="rows.length" class="ledger">
      <thead>
        <tr>
          <th>What</th>
          <th>Kind</th>
          <th>Taken away</th>
          <th>Stays until</th>
          <th><span class="sr-only">Steps</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td>
            <RouterLink :to="`/record/${row.id}`" class="font-semibold">{{ row.title }}</RouterLink>
          </td>
          <td>{{ kindOf(row.kind)?.label ?? row.kind }}</td>
          <td>{{ moment(row.at) }} by {{ row.by ? nameOf(row.by) : 'Yenvo' }}</td>
          <td class="whitespace-nowrap">{{ day(row.until.slice(0, 10)) }}</td>
          <td class="text-right whitespace-nowrap">
            <button v-if="row.may_bring_back" type="button" class="btn" @click="bringBack(row)">Bring it back</button>
            <button v-if="mayErase" type="button" class="btn btn-quiet ml-2" @click="asked = row">
              Erase<span class="sr-only"> “{{ row.title }}” for good</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="read" class="text-muted">Nothing lies in the trash.</p>
    <button v-if="more" type="button" class="btn mt-3" @click="load(rows.at(-1))">Show earlier</button>
    <EraseDialog
      v-if="asked"
      open
      :record-id="asked.id"
      :title="asked.title"
      @close="asked = undefined"
      @done="erased"
    />
  </div>
</template>

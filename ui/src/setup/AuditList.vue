<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { sentenceCase } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import TableLink from '@/parts/TableLink.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** Who changed what in the set-up, people, rules and kits, and who signed in or failed to; the newest first. */
const { setup } = useSetup()
const { moment } = useDates()
const what = ref('')
const who = ref('')
const from = ref('')
const till = ref('')
const rows = ref<Schemas['AuditRow'][]>([])
const kinds = ref<{ key: string; words: string }[]>([])
const more = ref(false)
const trouble = ref('')
const loaded = ref(false)

const narrowed = computed(() => ({
  ...(what.value ? { what: what.value } : {}),
  ...(who.value ? { who: who.value } : {}),
  ...(from.value ? { from: from.value } : {}),
  ...(till.value ? { till: till.value } : {}),
}))
let turn = 0
async function read(before?: number) {
  const mine = ++turn
  trouble.value = ''
  try {
    const query = { ...narrowed.value, ...(before ? { before: String(before) } : {}) }
    const page = await answerOf(api.GET('/api/audit', { params: { query } }))
    if (mine !== turn) return
    rows.value = before ? [...rows.value, ...page.rows] : page.rows
    kinds.value = page.kinds
    more.value = page.more
    loaded.value = true
  } catch (problem) {
    if (mine === turn) trouble.value = sentenceOf(problem)
  }
}
watch([what, who, from, till, setup], () => void read(), { immediate: true })
const whats = computed(() => [
  { value: '', words: 'everything' },
  ...kinds.value.map((one) => ({ value: one.key, words: sentenceCase(one.words) })),
])
const people = computed(() => [
  { value: '', words: 'anybody' },
  ...setup.value.people.map((one) => ({ value: one.key, words: one.name })),
])
</script>

<template>
  <div class="mb-3 flex flex-wrap items-end gap-3">
    <h2 class="mr-2 self-center text-lg font-semibold">Audit</h2>
    <SelectBox v-model="what" :options="whats" label="What" />
    <SelectBox v-model="who" :options="people" label="Who" />
    <label class="flex items-center gap-1">from <input v-model="from" type="date" class="input !w-36" /></label>
    <label class="flex items-center gap-1">till <input v-model="till" type="date" class="input !w-36" /></label>
    <TableLink of="audit" :query="narrowed" />
  </div>
  <TroubleBox v-if="trouble" :text="trouble" @retry="read()" />
  <table v-if="rows.length" class="ledger">
    <thead>
      <tr>
        <th class="w-36">When</th>
        <th>What was done</th>
        <th class="hidden w-32 sm:table-cell">From</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id">
        <td class="whitespace-nowrap">{{ moment(row.at) }}</td>
        <td class="break-words">
          <b class="font-semibold">{{ row.name }}</b> {{ row.words }}
          <ul v-if="row.changes.length" class="mt-1 text-sm">
            <li v-for="(change, index) in row.changes" :key="index">
              <span class="text-muted">{{ change.label }}:</span>
              <template v-if="change.before !== null">
                <s class="text-muted">{{ change.before }}</s></template
              >
              {{ change.after ?? (change.before === null ? '' : 'nothing') }}
            </li>
          </ul>
        </td>
        <td class="hidden font-mono text-sm text-muted sm:table-cell">{{ row.address }}</td>
      </tr>
    </tbody>
  </table>
  <p v-else-if="loaded && !trouble" class="p-3 text-muted">Nothing of the kind stands here.</p>
  <button v-if="more" type="button" class="btn mt-3" @click="read(rows.at(-1)!.id)">Older</button>
</template>

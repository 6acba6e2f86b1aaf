<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'

/** Rows that are refused: line, column, and what was expected there. */
const props = defineProps<{ id: number; heads: string[]; count: number }>()
const rows = ref<Schemas['ImportRefusals']['rows']>([])
const next = ref<number | null>(null)
const trouble = ref('')
async function load(after?: number) {
  trouble.value = ''
  try {
    const query = after ? { after: String(after) } : {}
    const page = await answerOf(api.GET('/api/imports/{id}/refusals', { params: { path: { id: props.id }, query } }))
    rows.value = after ? [...rows.value, ...page.rows] : page.rows
    next.value = page.next
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
watch(
  () => props.count,
  () => void load(),
  { immediate: true },
)
</script>

<template>
  <section class="mt-5" aria-label="Rows that are refused">
    <div class="mb-1 flex flex-wrap items-center gap-3">
      <h3>{{ count.toLocaleString('en-GB') }} {{ count === 1 ? 'row is' : 'rows are' }} refused</h3>
      <a class="btn btn-quiet no-underline" :href="`/api/imports/${id}/refused`" download>As CSV, to be mended</a>
    </div>
    <p v-if="trouble" class="text-red" role="alert">{{ trouble }}</p>
    <div v-if="rows.length" class="overflow-x-auto" tabindex="0">
      <table class="ledger">
        <thead>
          <tr>
            <th class="text-right">Line</th>
            <th>Column</th>
            <th>What is wrong</th>
            <th>The row</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.line">
            <td class="text-right align-top">{{ row.line }}</td>
            <td class="align-top">
              <p v-for="(one, at) in row.problems" :key="at">
                {{ one.column === null ? (one.label ?? '') : heads[one.column] }}
              </p>
            </td>
            <td class="min-w-[14rem] align-top">
              <p v-for="(one, at) in row.problems" :key="at">{{ one.text }}</p>
            </td>
            <td class="max-w-[20rem] truncate align-top text-muted">{{ row.cells.join(' · ') }}</td>
          </tr>
        </tbody>
      </table>
      <button v-if="next && rows.length < count" type="button" class="btn mt-2" @click="load(next)">Show more</button>
    </div>
  </section>
</template>

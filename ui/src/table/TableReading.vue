<script setup lang="ts">
import SelectBox from '@/parts/SelectBox.vue'
import type { Table } from './useTable'

/** How a table is written, as it seems, and its first rows; another answer reads it anew. */
const props = defineProps<{ table: Table; fixed: boolean }>()
const emit = defineEmits<{ form: [form: Table['plan']['form']] }>()
const SEPARATORS = [
  { value: ',', words: 'commas between the cells' },
  { value: ';', words: 'semicolons between the cells' },
  { value: '\t', words: 'tabs between the cells' },
  { value: '|', words: 'bars between the cells' },
]
const ENCODINGS = [
  ['UTF-8', 'UTF-8'],
  ['windows-1252', 'Western European (windows-1252)'],
  ['ISO-8859-1', 'Western European (ISO 8859-1)'],
  ['ISO-8859-15', 'Western European with € (ISO 8859-15)'],
  ['windows-1250', 'Central European (windows-1250)'],
  ['ISO-8859-2', 'Central European (ISO 8859-2)'],
  ['windows-1251', 'Cyrillic (windows-1251)'],
  ['windows-1253', 'Greek (windows-1253)'],
  ['windows-1254', 'Turkish (windows-1254)'],
].map(([value, words]) => ({ value: value!, words: words! }))
const set = (given: Partial<Table['plan']['form']>) => emit('form', { ...props.table.plan.form, ...given })
</script>

<template>
  <section aria-label="How it is read">
    <h2 class="mb-2 text-lg font-semibold">How it is read</h2>
    <div v-if="!fixed" class="mb-2 flex flex-wrap items-center gap-3">
      <SelectBox
        :model-value="table.plan.form.separator"
        :options="SEPARATORS"
        label="What stands between the cells"
        @update:model-value="(separator) => set({ separator })"
      />
      <SelectBox
        :model-value="table.plan.form.encoding"
        :options="ENCODINGS"
        label="Characters"
        @update:model-value="(encoding) => set({ encoding })"
      />
      <label class="flex items-center gap-2"
        ><input
          type="checkbox"
          :checked="table.plan.form.header"
          @change="set({ header: ($event.target as HTMLInputElement).checked })"
        />
        The first row says what the columns are</label
      >
    </div>
    <div v-if="table.sample.length" class="overflow-x-auto" tabindex="0">
      <table class="ledger">
        <thead>
          <tr>
            <th v-for="(head, at) in table.heads" :key="at" class="whitespace-nowrap">{{ head }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, line) in table.sample" :key="line">
            <td v-for="(_, at) in table.heads" :key="at" class="max-w-[16rem] truncate">{{ row[at] ?? '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="text-muted">There is no row in it.</p>
  </section>
</template>

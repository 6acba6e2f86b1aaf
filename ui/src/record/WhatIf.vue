<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import type { Schemas } from '@/api/client'
import type { Kind } from '@/state/setup'

/** One or more fields thought to be another, to see what would lie ahead then. Nothing is saved. */
const props = defineProps<{ kind: Kind; record: Schemas['Record']; busy: boolean; wrong: Record<string, string> }>()
const change = defineModel<Record<string, unknown> | null>({ required: true })

const fields = computed(() =>
  props.kind.fields.filter(
    (field) =>
      !field.formula &&
      !['creator', 'made', 'changed', 'last_contact', 'stage_since'].includes(field.key) &&
      (field.key !== 'stage' || props.kind.stages.length),
  ),
)
const rows = ref<{ key: string; value: unknown }[]>([])
const used = computed(() => rows.value.map((row) => row.key))
const optionsFor = (key: string) =>
  fields.value
    .filter((field) => field.key === key || !used.value.includes(field.key))
    .map((field) => ({ value: field.key, words: field.label }))
const fieldOf = (key: string) => fields.value.find((field) => field.key === key)

function add() {
  const first =
    fields.value.find((field) => field.key === 'stage' && !used.value.includes('stage')) ??
    fields.value.find((field) => field.key !== 'title' && !used.value.includes(field.key))
  if (first) rows.value.push({ key: first.key, value: props.record.values[first.key] ?? null })
}
function choose(index: number, key: string) {
  rows.value[index] = { key, value: props.record.values[key] ?? null }
}
const remove = (index: number) => rows.value.splice(index, 1)
watch(
  rows,
  (all) => {
    const changed = all.filter(
      (row) => JSON.stringify(row.value ?? null) !== JSON.stringify(props.record.values[row.key] ?? null),
    )
    change.value = changed.length ? Object.fromEntries(changed.map((row) => [row.key, row.value ?? null])) : null
  },
  { deep: true },
)
// "As it is", chosen on the axis, takes the thought back.
watch(
  change,
  (now) =>
    now === null && rows.value.some((row) => row.value !== (props.record.values[row.key] ?? null)) && (rows.value = []),
)
watch(
  () => props.record.id,
  () => (rows.value = []),
)
</script>

<template>
  <section class="mt-5" aria-label="What if">
    <h3 class="mb-1">What if</h3>
    <p v-if="!rows.length" class="text-muted">
      See what would lie ahead if something were another. Nothing is saved.
      <button type="button" class="link" data-test="what-if" @click="add">Change a field</button>
    </p>
    <template v-else>
      <div v-for="(row, index) in rows" :key="row.key" class="mb-2">
        <div class="flex flex-wrap items-center gap-2">
          <SelectBox
            :model-value="row.key"
            :options="optionsFor(row.key)"
            label="What if this field"
            @update:model-value="(key) => choose(index, key)"
          />
          <span class="text-muted">becomes</span>
          <button
            type="button"
            class="link ml-auto text-sm"
            :aria-label="`Leave ${fieldOf(row.key)?.label} as it is`"
            @click="remove(index)"
          >
            Leave it
          </button>
        </div>
        <FieldInput v-if="fieldOf(row.key)" v-model="row.value" class="mt-1" :field="fieldOf(row.key)!" />
        <p v-if="wrong[row.key]" class="text-sm text-red" role="alert">{{ wrong[row.key] }}</p>
      </div>
      <p class="text-muted">
        {{
          busy
            ? 'Working it out.'
            : change
              ? 'The axis shows what would be new and what would be gone.'
              : 'Say what it becomes.'
        }}
        <button type="button" class="link" @click="add">One more field</button>
      </p>
    </template>
  </section>
</template>

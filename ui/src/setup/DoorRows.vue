<script setup lang="ts">
import { computed } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Field, type Kind } from '@/state/setup'
import ChoiceWords from './ChoiceWords.vue'
import { DATE_FORMS, fillable, keysOf, pathsOf, type DoorRow, type Message } from './doorMap'

/** The table of a door: which of a message goes into which field, how it is turned into that, and what comes of it. */
const props = defineProps<{
  kind: Kind
  message: Message | undefined
  /** Columns of a table, in place of what stands in a message. */
  standing?: { path: string; words: string }[]
  wrong: Record<string, string>
  shown: Record<string, string>
  refused: Record<string, string>
}>()
const rows = defineModel<DoorRow[]>({ required: true })
const { kindOf } = useSetup()
const COLUMNS = 'sm:grid-cols-[9rem_minmax(0,1fr)_auto]'
const fields = computed(() => fillable(props.kind))
const fieldOf = (key: string) => fields.value.find((one) => one.key === key)
const left = computed(() =>
  fields.value
    .filter((field) => !rows.value.some((row) => row.field === field.key))
    .map((field) => ({ value: field.key as string | null, words: field.label })),
)
const short = (value: unknown) => {
  const text = JSON.stringify(value) ?? ''
  return text.length > 40 ? `${text.slice(0, 40)}…` : text
}
const found = computed(
  () =>
    props.standing ??
    (props.message ? pathsOf(props.message) : []).map(({ path, value }) => ({
      path,
      words: `${path}  ${short(value)}`,
    })),
)
const ALWAYS = ''
const places = (row: DoorRow) => {
  const known = found.value.map((one) => ({ value: one.path, words: one.words }))
  const own = row.path && !known.some((one) => one.value === row.path) ? [{ value: row.path, words: row.path }] : []
  return [{ value: ALWAYS, words: 'always the same' }, ...own, ...known]
}
const change = (at: number, given: Partial<DoorRow>) =>
  (rows.value = rows.value.map((row, index) => (index === at ? { ...row, ...given } : row)))
function add(field: string | null) {
  if (field) rows.value = [...rows.value, { field, path: found.value[0]?.path ?? '' }]
}
const drop = (at: number) => (rows.value = rows.value.filter((_, index) => index !== at))
const wrongOf = (at: number) =>
  Object.entries(props.wrong)
    .filter(([key]) => key.startsWith(`rows.${at}.`))
    .map(([, sentence]) => sentence)
    .join(' ')
const dated = (field: Field | undefined) => ['date', 'datetime'].includes(field?.type ?? '')
const by = (field: Field) => [
  { value: '', words: 'by its number' },
  ...keysOf(kindOf(field.links_to ?? '')).map((one) => ({ value: one.key, words: `by ${one.label}` })),
]
/** What the program writes for a choice, where that is not the choice itself. */
const written = (row: DoorRow, key: string) =>
  Object.entries(row.choices ?? {})
    .filter(([, to]) => to === key)
    .map(([from]) => from)
function write(at: number, key: string, words: string[]) {
  const others = Object.entries(rows.value[at]!.choices ?? {}).filter(([, to]) => to !== key)
  change(at, { choices: Object.fromEntries([...others, ...words.map((one) => [one, key])]) })
}
</script>

<template>
  <ul class="border-b border-line" data-test="door-rows">
    <li
      v-for="(row, at) in rows"
      :key="row.field"
      class="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 gap-y-1 border-t border-line py-2"
      :class="COLUMNS"
      :aria-label="fieldOf(row.field)?.label ?? row.field"
    >
      <div class="pt-1 font-semibold">{{ fieldOf(row.field)?.label ?? 'a field that is gone' }}</div>
      <div v-if="fieldOf(row.field)" class="grid min-w-0 gap-1 max-sm:order-last max-sm:col-span-2">
        <SelectBox
          :model-value="row.path ?? ''"
          :options="places(row)"
          label="Where it stands"
          wide
          @update:model-value="(path) => change(at, { path })"
        />
        <FieldInput
          v-if="!row.path"
          :model-value="row.value ?? null"
          :field="fieldOf(row.field)!"
          @update:model-value="(value) => change(at, { value: value as DoorRow['value'] })"
        />
        <template v-else>
          <SelectBox
            v-if="dated(fieldOf(row.field))"
            :model-value="row.form ?? 'iso'"
            :options="[...DATE_FORMS]"
            label="How dates are written"
            @update:model-value="(form) => change(at, { form })"
          />
          <SelectBox
            v-if="fieldOf(row.field)!.type === 'link'"
            :model-value="row.by ?? ''"
            :options="by(fieldOf(row.field)!)"
            label="How the record is found"
            @update:model-value="(key) => change(at, { by: key || null })"
          />
          <details v-if="['choice', 'choices'].includes(fieldOf(row.field)!.type)">
            <summary class="link cursor-pointer py-1 text-sm">
              {{ standing ? 'What the table says for each choice' : 'What the program writes for each choice' }}
            </summary>
            <label
              v-for="choice in fieldOf(row.field)!.choices"
              :key="choice.key"
              class="mt-1 grid grid-cols-[8rem_minmax(0,1fr)] items-center gap-2"
            >
              <span>{{ choice.label }}</span>
              <ChoiceWords
                :model-value="written(row, choice.key)"
                :placeholder="choice.label"
                @update:model-value="(words) => write(at, choice.key, words)"
              />
            </label>
          </details>
          <component :is="standing ? 'details' : 'div'" :open="!!row.otherwise || undefined">
            <summary v-if="standing" class="link cursor-pointer py-1 text-sm">Where the cell is empty</summary>
            <input
              class="input"
              aria-label="Where nothing stands there"
              placeholder="where nothing stands there"
              :value="row.otherwise ?? ''"
              @input="change(at, { otherwise: ($event.target as HTMLInputElement).value })"
            />
          </component>
        </template>
        <p v-if="wrongOf(at)" class="text-sm text-red" role="alert">{{ wrongOf(at) }}</p>
        <p v-else-if="refused[row.field]" class="text-sm text-red">{{ refused[row.field] }}</p>
        <p v-else-if="shown[row.field]" class="text-sm text-leaf">becomes {{ shown[row.field] }}</p>
      </div>
      <button
        type="button"
        class="btn btn-quiet self-start px-2"
        :aria-label="`Leave ${fieldOf(row.field)?.label ?? row.field} alone`"
        @click="drop(at)"
      >
        ×
      </button>
    </li>
  </ul>
  <p v-if="wrong.rows" class="mt-1 text-sm text-red" role="alert">{{ wrong.rows }}</p>
  <div v-if="left.length" class="mt-2 inline-block">
    <SelectBox
      :model-value="null"
      :options="left"
      label="Fill in a field"
      blank="Fill in a field"
      @update:model-value="add"
    />
  </div>
</template>

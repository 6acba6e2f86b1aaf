<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { useTyped } from '@/lib/useTyped'
import { several } from '@/lib/words'
import { moved } from '@/rule/model'
import type { Field, Kind } from '@/state/setup'
import ChoiceRows from './ChoiceRows.vue'
import FieldDialog from './FieldDialog.vue'
import { TYPE_WORDS } from './types'
import { useChange } from './useChange'

/** The stages and fields of a kind of record. */
const props = defineProps<{ kind: Kind }>()
const { wrong, busy, leaning, look, resting, send } = useChange()
const { say } = useNotices()
const { moment } = useDates()

const {
  typed: stages,
  changed,
  take: takeStages,
} = useTyped(() => props.kind.stages as { key?: string | null; label: string }[], look)
async function saveStages() {
  const body = {
    kind: props.kind.key,
    stages: stages.value.filter((one) => one.label.trim()),
    anyway: leaning.value,
  }
  const headers = resting.value
  if (!(await send(() => answerOf(api.PUT('/api/setup/stages', { headers, body }))))) return
  await takeStages()
  say(`The ${word.value} are saved.`)
}
const word = computed(() => several(props.kind.stage_label.toLowerCase()))
const {
  typed: names,
  changed: renamed,
  take: takeNames,
} = useTyped(() => ({ plural: props.kind.plural, label: props.kind.label, stage_label: props.kind.stage_label }), look)
const NAMES = [
  { key: 'plural', words: 'Many are called', most: 60 },
  { key: 'label', words: 'One is called', most: 60 },
  { key: 'stage_label', words: 'Where it stands is called', most: 30 },
] as const
async function rename() {
  const body = { kind: props.kind.key, ...names.value }
  const headers = resting.value
  if (!(await send(() => answerOf(api.PUT('/api/setup/lists', { headers, body }))))) return
  await takeNames()
  say('The names are saved.')
}
const router = useRouter()
async function takeAway() {
  const body = { kind: props.kind.key, anyway: leaning.value && Boolean(wrong.value.list) }
  const name = props.kind.plural
  if (!(await send(() => answerOf(api.DELETE('/api/setup/lists', { body }))))) return
  say(`The list ${name} is taken away. It can be brought back from here.`)
  await router.replace('/setup/deal')
}
const own = computed(() => props.kind.fields.filter((field) => !field.built_in))
const editing = ref<Field | null>(null)
const open = ref(false)
function edit(field: Field | null) {
  editing.value = field
  open.value = true
}
const { data: removed, reload: readRemoved } = useLoaded(
  () => answerOf(api.GET('/api/setup/removed', { params: { query: { kind: props.kind.key } } })),
  [() => props.kind],
)
async function bringBack(key: string, label: string) {
  const body = { kind: props.kind.key, key }
  if (await send(() => answerOf(api.POST('/api/setup/removed', { body }))))
    say(`${label} is back, with what records hold in it.`)
  void readRemoved()
}
async function move(index: number, by: 1 | -1) {
  const keys = moved(own.value, index, by).map((field) => field.key)
  await send(() => answerOf(api.PUT('/api/setup/field-order', { body: { kind: props.kind.key, keys } })))
}
const more = (field: Field) =>
  [
    field.group && `under ${field.group}`,
    field.formula && `= ${field.formula}`,
    field.unit,
    field.links_to && `leads to ${field.links_to.replace('entry/', '')}`,
    field.choices.map((one) => one.label).join(', '),
  ]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <section class="mb-6 max-w-xl">
    <h2 class="mb-2 text-lg font-semibold">{{ several(kind.stage_label) }}</h2>
    <ChoiceRows
      v-model="stages"
      :label="`${several(kind.stage_label)}, in order`"
      :uses="`stage ${kind.key}`"
      :wrong="wrong.stages ?? wrong['']"
    />
    <button type="button" class="btn" :disabled="busy || !changed" @click="saveStages">
      {{ leaning ? 'Save all the same' : `Save the ${word}` }}
    </button>
  </section>
  <section class="mb-6">
    <h2 class="mb-2 text-lg font-semibold">Names</h2>
    <div class="flex flex-wrap items-end gap-3">
      <label v-for="name in NAMES" :key="name.key"
        ><span class="lab block">{{ name.words }}</span
        ><input v-model="names[name.key]" class="input !w-44" :maxlength="name.most"
      /></label>
      <button type="button" class="btn" :disabled="busy || !renamed" @click="rename">Save the names</button>
      <p v-for="name in NAMES.filter((one) => wrong[one.key])" :key="name.key" class="text-sm text-red" role="alert">
        {{ wrong[name.key] }}
      </p>
    </div>
  </section>
  <section v-if="kind.family === 'entry'" class="mb-6">
    <h2 class="mb-1 text-lg font-semibold">From outside</h2>
    <p>
      Visitors send entries by <RouterLink to="/setup/forms" class="link">forms</RouterLink>, programs by
      <RouterLink to="/setup/programs" class="link">doors</RouterLink>.
    </p>
  </section>
  <section>
    <div class="mb-2 flex items-center gap-3">
      <h2 class="text-lg font-semibold">Fields</h2>
      <button type="button" class="btn btn-go" @click="edit(null)">New field</button>
    </div>
    <div class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th>Key</th>
            <th>Holds</th>
            <th>Details</th>
            <th><span class="sr-only">Order</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(field, index) in own" :key="field.key" class="cursor-pointer" @click="edit(field)">
            <td>
              <button type="button" class="font-semibold hover:underline">{{ field.label }}</button>
            </td>
            <td class="font-mono text-sm">{{ field.key }}</td>
            <td class="whitespace-nowrap">
              {{ TYPE_WORDS[field.type] }}<span v-if="field.formula" class="flag ml-2 bg-band-2">worked out</span
              ><span v-if="field.required" class="flag ml-2 bg-band-2">required</span
              ><span v-if="field.unique" class="flag ml-2 bg-band-2">once</span
              ><span v-if="field.kept" class="flag ml-2 bg-band-2">kept</span>
            </td>
            <td class="break-words" :class="field.formula ? 'font-mono text-sm' : ''">{{ more(field) }}</td>
            <td class="text-right whitespace-nowrap">
              <button
                type="button"
                class="step"
                :aria-label="`Move ${field.label} up`"
                :disabled="index === 0"
                @click.stop="move(index, -1)"
              >
                ↑
              </button>
              <button
                type="button"
                class="step"
                :aria-label="`Move ${field.label} down`"
                :disabled="index === own.length - 1"
                @click.stop="move(index, 1)"
              >
                ↓
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!own.length" class="p-3 text-muted">Only the fields that every record has: title, owner and the like.</p>
    </div>
    <template v-if="removed?.fields.length">
      <h3 class="mt-4 mb-1 font-semibold">Taken away</h3>
      <p class="text-sm text-muted">What records hold in these fields is kept, and shown again when a field is back.</p>
      <ul>
        <li
          v-for="field in removed.fields"
          :key="field.key"
          class="flex flex-wrap items-center gap-x-3 border-b border-line py-1"
        >
          <span class="font-semibold">{{ field.label }}</span>
          <span class="text-sm text-muted">{{ TYPE_WORDS[field.type] }}, {{ moment(field.removed_at) }}</span>
          <button type="button" class="btn ml-auto" :disabled="busy" @click="bringBack(field.key, field.label)">
            Bring back
          </button>
        </li>
      </ul>
    </template>
  </section>
  <section v-if="kind.family === 'entry'" class="mt-8 border-t border-line pt-4">
    <p v-if="wrong.list" class="mb-2 text-red" role="alert">{{ wrong.list }}</p>
    <button type="button" class="btn" :disabled="busy" @click="takeAway">
      {{ leaning && wrong.list ? 'Take the list away all the same' : 'Take the list away' }}
    </button>
  </section>
  <FieldDialog :open="open" :kind="kind" :field="editing" @close="open = false" />
</template>

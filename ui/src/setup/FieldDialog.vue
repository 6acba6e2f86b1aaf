<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FieldInput from '@/parts/FieldInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { plainField } from '@/lib/plainField'
import { useSetup, type Field, type Kind } from '@/state/setup'
import ChoiceRows from './ChoiceRows.vue'
import { TYPE_WORDS } from './types'
import { useChange } from './useChange'
import UsesNote from './UsesNote.vue'

/** A field of a kind: a new one, or one to be changed or taken away. */
const props = defineProps<{ open: boolean; kind: Kind; field: Field | null }>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const { wrong, busy, leaning, look, resting, send } = useChange()

const RESULTS = ['number', 'money', 'text', 'date', 'datetime', 'yes_no']
const label = ref('')
const type = ref('text')
const unit = ref('')
const linksTo = ref('contact')
const choices = ref<{ key?: string | null; label: string }[]>([])
const worked = ref(false)
const formula = ref('')
const said = ref('')
const required = ref(false)
const unique = ref(false)
const usual = ref<unknown>(null)
const help = ref('')
const group = ref('')
const removing = ref(false)
// Whether somebody has chosen the type; until then it follows the formula.
const touched = ref(false)
function chooseType(next: string) {
  touched.value = true
  type.value = next
}

watch(
  () => props.open,
  (open) => {
    if (!open) return
    const field = props.field
    label.value = field?.label ?? ''
    type.value = field?.type ?? 'text'
    unit.value = field?.unit ?? ''
    linksTo.value = field?.links_to ?? 'contact'
    choices.value = field?.choices.map((one) => ({ ...one })) ?? [{ label: '' }]
    worked.value = !!field?.formula
    formula.value = field?.formula ?? ''
    said.value = ''
    required.value = field?.required ?? false
    unique.value = field?.unique ?? false
    usual.value = field?.default ?? null
    help.value = field?.help ?? ''
    group.value = field?.group ?? ''
    removing.value = false
    touched.value = false
    wrong.value = {}
    look()
  },
)
const types = computed(() =>
  Object.entries(TYPE_WORDS)
    .filter(([key]) => !worked.value || RESULTS.includes(key))
    .map(([value, words]) => ({ value, words })),
)
watch(worked, (on) => on && !touched.value && (type.value = 'number'))
watch(type, () => worked.value && check())

/** Says at once whether a formula holds. */
async function check() {
  if (!formula.value.trim()) return
  const body = { kind: props.kind.key, formula: formula.value, type: touched.value || props.field ? type.value : null }
  const answer = await answerOf(api.POST('/api/setup/formula', { body }))
  if (!touched.value && !props.field && answer.type && RESULTS.includes(answer.type)) type.value = answer.type
  said.value = answer.problems[0] ? '' : `It holds, and comes to a ${answer.type?.replaceAll('_', ' ')}.`
  wrong.value = answer.problems[0] ? { formula: `It ${answer.problems[0]}.` } : {}
}
const mayBeUnique = computed(() => !worked.value && UNIQUE.includes(type.value))
const UNIQUE = ['text', 'url', 'email', 'phone', 'number', 'date']
/** The field as it would be, to type its first value with. */
const thought = computed(() =>
  plainField('default', 'Begins with', type.value as Field['type'], {
    unit: unit.value || null,
    choices: choices.value
      .filter((one) => one.label.trim())
      .map((one) => ({ key: one.key ?? one.label, label: one.label })),
  }),
)
watch(type, () => (usual.value = props.field?.type === type.value ? (props.field.default ?? null) : null))
const groups = computed(() => [...new Set(props.kind.fields.map((one) => one.group).filter(Boolean))])
const form = () => ({
  label: label.value,
  type: type.value,
  unit: ['number', 'money'].includes(type.value) ? unit.value || null : null,
  links_to: type.value === 'link' ? linksTo.value : null,
  formula: worked.value ? formula.value : null,
  required: required.value && !worked.value,
  unique: unique.value && mayBeUnique.value,
  default: worked.value || type.value === 'link' ? null : usual.value,
  help: help.value || null,
  group: group.value || null,
  ...(['choice', 'choices'].includes(type.value) ? { choices: choices.value.filter((one) => one.label.trim()) } : {}),
})
async function save() {
  const field = {
    ...form(),
    ...(leaning.value && (wrong.value.choices || wrong.value.required) ? { anyway: true } : {}),
  }
  const kind = props.kind.key
  const headers = resting.value
  const done = await send(() =>
    answerOf(
      props.field
        ? api.PUT('/api/setup/fields', { headers, body: { kind, key: props.field.key, field } })
        : api.POST('/api/setup/fields', { body: { kind, field } }),
    ),
  )
  if (done) emit('close')
}
async function remove() {
  if (!removing.value) {
    removing.value = true
    return
  }
  const body = { kind: props.kind.key, key: props.field!.key, anyway: leaning.value }
  if (await send(() => answerOf(api.DELETE('/api/setup/fields', { body })))) emit('close')
}
</script>

<template>
  <DialogBox
    :open="open"
    :title="
      field ? `Field ${field.label} of ${kind.plural.toLowerCase()}` : `New field of ${kind.plural.toLowerCase()}`
    "
    wide
    @close="emit('close')"
  >
    <form @submit.prevent="save">
      <UsesNote
        v-if="field"
        :of="`field ${kind.key} ${field.key}`"
        doing="Look at them before you change it or take it away."
      />
      <FormRow v-slot="{ id }" label="Name" :wrong="wrong.label"
        ><input :id="id" v-model="label" class="input" maxlength="60"
      /></FormRow>
      <label v-if="!field" class="mb-3 flex items-center gap-2"
        ><input v-model="worked" type="checkbox" /> worked out by a formula, not typed</label
      >
      <div class="grid gap-x-4 sm:grid-cols-2">
        <FormRow :label="worked ? 'What comes out' : 'What it holds'" :wrong="wrong.type" plain
          ><SelectBox
            :model-value="type"
            :options="types"
            label="What it holds"
            wide
            :disabled="!!field"
            @update:model-value="chooseType"
        /></FormRow>
        <FormRow v-if="['number', 'money'].includes(type)" v-slot="{ id }" label="Unit" :wrong="wrong.unit"
          ><input :id="id" v-model="unit" class="input" maxlength="10" placeholder="m, €, kg"
        /></FormRow>
        <FormRow v-if="type === 'link'" label="Leads to" :wrong="wrong.links_to" plain
          ><SelectBox
            v-model="linksTo"
            :options="setup.kinds.map((one) => ({ value: one.key, words: one.plural }))"
            label="Leads to"
            wide
            :disabled="!!field"
        /></FormRow>
      </div>
      <template v-if="worked">
        <FormRow v-slot="{ id }" label="Formula" :wrong="wrong.formula" :hint="said">
          <textarea
            :id="id"
            v-model="formula"
            class="input font-mono"
            rows="2"
            maxlength="500"
            placeholder="days_between(last_contact, today)"
            @change="check"
          />
        </FormRow>
        <details class="mb-3">
          <summary class="cursor-pointer text-link">What can stand in a formula</summary>
          <p class="mt-1 text-sm">
            Fields by their key ({{
              kind.fields
                .filter((one) => !['choices', 'link'].includes(one.type))
                .map((one) => one.key)
                .join(', ')
            }}), fields of linked records, such as
            {{ kind.fields.find((one) => one.type === 'link')?.key ?? 'boat' }}.title, today, numbers, 'texts', + - * /,
            comparisons, and, or. An empty field makes what is worked out from it empty.
          </p>
          <ul class="mt-1 columns-2 text-sm">
            <li v-for="one in setup.vocabulary.functions" :key="one.name" class="break-inside-avoid py-[2px]">
              <code class="font-mono">{{ one.example }}</code> <span class="text-muted">{{ one.words }}</span>
            </li>
          </ul>
          <p class="mt-1 text-sm text-muted">
            Counts and sums go over {{ (setup.relations[kind.key] ?? []).map((one) => one.name).join(', ') }}.
          </p>
        </details>
      </template>
      <ChoiceRows
        v-if="['choice', 'choices'].includes(type)"
        v-model="choices"
        label="Choices"
        :uses="field ? `choice ${kind.key} ${field.key}` : undefined"
        :wrong="wrong.choices"
      />
      <template v-if="!worked">
        <div class="mb-3 flex flex-wrap gap-x-6 gap-y-1">
          <label class="flex items-center gap-2"
            ><input v-model="required" type="checkbox" /> has to be filled in</label
          >
          <label v-if="mayBeUnique" class="flex items-center gap-2"
            ><input v-model="unique" type="checkbox" /> each value stands once</label
          >
        </div>
        <p v-if="wrong.required ?? wrong.unique" class="mb-3 text-sm text-red" role="alert">
          {{ wrong.required ?? wrong.unique }}
        </p>
        <FormRow
          v-if="type !== 'link'"
          v-slot="{ id, describedby }"
          label="A new record begins with"
          :wrong="wrong.default"
          :plain="['choice', 'choices', 'person', 'yes_no'].includes(type)"
          ><FieldInput :id="id" v-model="usual" :field="thought" :invalid="!!wrong.default" :describedby="describedby"
        /></FormRow>
      </template>
      <FormRow v-slot="{ id, describedby }" label="Help, shown where it is filled in" :wrong="wrong.help"
        ><input :id="id" v-model="help" class="input" maxlength="300" :aria-describedby="describedby"
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        label="Stands under"
        :wrong="wrong.group"
        hint="A heading on the record's page; fields with the same one stand together."
        ><input
          :id="id"
          v-model="group"
          class="input !w-60"
          maxlength="60"
          :list="`${id}-groups`"
          :aria-describedby="describedby" /><datalist :id="`${id}-groups`">
          <option v-for="one in groups" :key="one!" :value="one!" /></datalist
      ></FormRow>
      <p v-if="wrong[''] ?? wrong.field" class="mb-3 text-red" role="alert">{{ wrong[''] ?? wrong.field }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">
          {{
            leaning && (wrong.choices || wrong.required)
              ? 'Save all the same'
              : field
                ? 'Save the field'
                : 'Add the field'
          }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
        <button v-if="field" type="button" class="btn btn-quiet ml-auto" :disabled="busy" @click="remove">
          {{
            leaning && wrong.field
              ? 'Take it away all the same'
              : removing
                ? 'Take it away, with what it shows'
                : 'Take away'
          }}
        </button>
      </div>
    </form>
  </DialogBox>
</template>

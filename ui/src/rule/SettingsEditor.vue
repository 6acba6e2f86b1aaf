<script setup lang="ts">
import { computed } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Field, type Kind } from '@/state/setup'
import DateRuleEditor from './DateRuleEditor.vue'
import FieldPicker from './FieldPicker.vue'
import { lookUpFormula, formulaProblem } from './formulas'
import type { Reference, Setting } from './model'
import TemplateInput from './TemplateInput.vue'

/** Fields of a record and what each is set to: a value, a date, a calculation, now, a copy, a text, or nothing. */
const props = defineProps<{ target: Kind; kind: Kind; references: Reference[]; wrong?: string }>()
const values = defineModel<Setting[]>({ required: true })
const { setup } = useSetup()
void setup

const settable = computed(() =>
  props.target.fields.filter(
    (field) => !field.formula && (!field.built_in || ['title', 'stage', 'owner'].includes(field.key)),
  ),
)
const fields = computed(() => settable.value.map((field) => ({ value: field.key, words: field.label })))
const fieldOf = (setting: Setting) => settable.value.find((field) => field.key === setting.field)
const TEXTS = ['text', 'long_text', 'url', 'email', 'phone']
const NUMBERS = ['number', 'money']
const DATES = ['date', 'datetime']
const WORDS: Record<string, string> = {
  value: 'a value',
  date: 'a date counted from another',
  formula: 'a calculation',
  now: 'now',
  copy: 'the same as a field',
  text: 'a text with blanks',
  empty: 'empty',
}

function waysOf(field: Field | undefined) {
  const type = field?.type ?? 'text'
  const ways = [
    ...(TEXTS.includes(type) ? ['text'] : ['value']),
    ...(DATES.includes(type) ? ['date', 'now'] : []),
    ...(type === 'link' || type === 'choices' ? [] : ['formula']),
    'copy',
    ...(['title', 'stage'].includes(field?.key ?? '') ? [] : ['empty']),
  ]
  return ways.map((way) => ({ value: way, words: WORDS[way]! }))
}
const wayOf = (setting: Setting) => Object.keys(WORDS).find((way) => way in setting) ?? 'value'
const replace = (index: number, setting: Setting) =>
  (values.value = values.value.map((one, place) => (place === index ? setting : one)))
const remove = (index: number) => (values.value = values.value.filter((_, place) => place !== index))

function blank(field: string, way: string): Setting {
  const usual: Record<string, unknown> = {
    value: null,
    date: { count: 1, unit: 'working_days', direction: 'after', from: 'event', day_off: 'later' },
    formula: '',
    now: true,
    copy: '',
    text: '',
    empty: true,
  }
  return { field, [way]: usual[way] } as Setting
}
function chooseField(index: number, key: string) {
  const field = settable.value.find((one) => one.key === key)
  const way = waysOf(field)[0]!.value
  replace(index, blank(key, way))
}
const number = (field: Field | undefined, value: unknown) =>
  NUMBERS.includes(field?.type ?? '') && typeof value === 'string' && /^-?\d+(\.\d+)?$/.test(value.trim())
    ? Number(value)
    : value
const family = (type: string | undefined) =>
  TEXTS.includes(type ?? '') ? 'text' : NUMBERS.includes(type ?? '') ? 'number' : type
const copies = (field: Field | undefined) =>
  props.references.filter((one) => family(one.field.type) === family(field?.type))
function formula(index: number, setting: Setting, event: Event) {
  const text = (event.target as HTMLInputElement).value
  replace(index, { ...setting, formula: text })
  void lookUpFormula(`= ${text}`, props.kind)
}
</script>

<template>
  <div class="mb-3">
    <span class="lab mb-1 block">Fields it sets</span>
    <p v-if="wrong" class="mb-1 text-sm text-red" role="alert">{{ wrong }}</p>
    <div v-for="(setting, index) in values" :key="index" class="mb-2 border border-line p-2">
      <div class="flex flex-wrap items-center gap-2">
        <SelectBox
          :model-value="setting.field || null"
          :options="fields"
          label="Field to set"
          blank="Choose a field"
          @update:model-value="(key) => key && chooseField(index, key)"
        />
        <span class="text-muted">to</span>
        <SelectBox
          v-if="setting.field"
          :model-value="wayOf(setting)"
          :options="waysOf(fieldOf(setting))"
          label="Set to"
          @update:model-value="(way) => replace(index, blank(setting.field, way))"
        />
        <button type="button" class="link ml-auto text-sm" aria-label="Do not set this field" @click="remove(index)">
          Remove
        </button>
      </div>
      <div v-if="fieldOf(setting)" class="mt-2">
        <FieldInput
          v-if="wayOf(setting) === 'value'"
          :model-value="setting.value ?? null"
          :field="fieldOf(setting)!"
          @update:model-value="
            (value) =>
              replace(index, { field: setting.field, value: number(fieldOf(setting), value) as Setting['value'] })
          "
        />
        <DateRuleEditor
          v-else-if="setting.date"
          :model-value="setting.date"
          :label="fieldOf(setting)!.label"
          :references="references"
          @update:model-value="(date) => date && replace(index, { field: setting.field, date })"
        />
        <FormRow
          v-else-if="setting.formula !== undefined"
          v-slot="{ id }"
          label="Calculation"
          :wrong="formulaProblem(`= ${setting.formula}`, kind) ?? undefined"
          hint="Such as value * 0.2, or add_working_days(today, 3)"
          ><input :id="id" class="input font-mono" :value="setting.formula" @change="formula(index, setting, $event)"
        /></FormRow>
        <FieldPicker
          v-else-if="setting.copy !== undefined"
          :model-value="setting.copy || undefined"
          :references="copies(fieldOf(setting))"
          label="Field to copy"
          @update:model-value="(path) => replace(index, { field: setting.field, copy: path ?? '' })"
        />
        <TemplateInput
          v-else-if="setting.text !== undefined"
          :model-value="setting.text"
          :references="references"
          :kind="kind"
          :label="fieldOf(setting)!.label"
          @update:model-value="(text) => replace(index, { field: setting.field, text })"
        />
      </div>
    </div>
    <button type="button" class="link" @click="values = [...values, { field: '', value: null }]">
      Set another field
    </button>
  </div>
</template>

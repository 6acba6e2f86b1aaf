<script setup lang="ts">
import { computed } from 'vue'
import { clockOf, dayOf } from '@/lib/dates'
import RecordPicker from '@/parts/RecordPicker.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Field } from '@/state/setup'

/** The right control for a value of a field, in the plain form that the API takes. Empty is null. */
const props = defineProps<{ field: Field; id?: string; shown?: string; invalid?: boolean; describedby?: string }>()
const value = defineModel<unknown>({ required: true })
const emit = defineEmits<{ enter: [] }>()
const { people, zone } = useSetup()

const none = { value: null, words: 'none' }
const options = computed(() => {
  if (props.field.type === 'person') return [none, ...people.value.map((one) => ({ value: one.key, words: one.name }))]
  if (props.field.type === 'yes_no') return [none, { value: 'yes', words: 'yes' }, { value: 'no', words: 'no' }]
  const choices = props.field.choices.map((choice) => ({ value: choice.key, words: choice.label }))
  return props.field.key === 'stage' ? choices : [none, ...choices]
})
const chosen = computed({
  get: () => {
    if (props.field.type !== 'yes_no') return (value.value as string | null) ?? null
    return value.value === true ? 'yes' : value.value === false ? 'no' : null
  },
  set: (key) => (value.value = props.field.type === 'yes_no' ? (key === null ? null : key === 'yes') : key),
})
const several = computed({ get: () => (value.value as string[] | null) ?? [], set: (keys) => (value.value = keys) })
const text = computed({
  get: () => (value.value === null || value.value === undefined ? '' : String(value.value)),
  set: (typed) => (value.value = typed),
})
// A date with time is kept in UTC and typed by the wall clock of the yard.
const local = computed(() => {
  if (!value.value || !String(value.value).includes('Z')) return text.value
  const moment = new Date(String(value.value))
  return `${dayOf(moment, zone.value)}T${clockOf(moment, zone.value)}`
})
</script>

<template>
  <SelectBox
    v-if="['choice', 'person', 'yes_no'].includes(field.type)"
    v-model="chosen"
    :options="options"
    :label="field.label"
    :invalid="invalid"
    wide
  />
  <SeveralBox
    v-else-if="field.type === 'choices'"
    v-model="several"
    :options="field.choices.map((choice) => ({ value: choice.key, words: choice.label }))"
    :label="field.label"
    wide
  />
  <RecordPicker
    v-else-if="field.type === 'link'"
    :model-value="(value as number | null) ?? null"
    :label="field.label"
    :kind="field.links_to"
    :shown="shown"
    :invalid="invalid"
    @update:model-value="value = $event"
  />
  <textarea
    v-else-if="field.type === 'long_text'"
    :id="id"
    v-model="text"
    :aria-label="id ? undefined : field.label"
    class="input"
    rows="4"
    :aria-invalid="invalid || undefined"
    :aria-describedby="describedby"
  />
  <input
    v-else-if="field.type === 'datetime'"
    :id="id"
    type="datetime-local"
    :aria-label="id ? undefined : field.label"
    class="input"
    :value="local"
    :aria-invalid="invalid || undefined"
    :aria-describedby="describedby"
    @input="value = ($event.target as HTMLInputElement).value"
  />
  <div v-else class="flex items-center gap-2">
    <input
      :id="id"
      v-model="text"
      :aria-label="id ? undefined : field.label"
      :type="field.type === 'date' ? 'date' : 'text'"
      class="input"
      :inputmode="['number', 'money'].includes(field.type) ? 'decimal' : undefined"
      :aria-invalid="invalid || undefined"
      :aria-describedby="describedby"
      autocomplete="off"
      @keydown.enter="emit('enter')"
    />
    <span v-if="field.unit" class="text-muted">{{ field.unit }}</span>
  </div>
</template>

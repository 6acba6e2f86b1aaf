<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from 'vue'
import { plainField } from '@/lib/plainField'
import type { Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import type { Reference } from './model'

/** A text with blanks such as {{ record.title }}, and a picker of all that can stand in one. */
const props = defineProps<{
  references: Reference[]
  kind: Kind
  label: string
  id?: string
  long?: boolean
  rows?: number
  invalid?: boolean
}>()
const value = defineModel<string>({ required: true })
const box = useTemplateRef<HTMLInputElement | HTMLTextAreaElement>('box')

/** What is known of a person, beside their name. */
const PARTS = [
  { key: 'email', words: 'e-mail' },
  { key: 'phone', words: 'phone' },
  { key: 'team', words: 'team' },
]
const withParts = (one: Reference): Reference[] =>
  one.field.type === 'person'
    ? [
        one,
        ...PARTS.map((part) => ({ ...one, path: `${one.path}.${part.key}`, label: `${one.label} · ${part.words}` })),
      ]
    : [one]

const blanks = computed<Reference[]>(() => {
  const plain = (path: string, label: string): Reference => ({
    path,
    label,
    field: plainField(path, label, 'text'),
  })
  return [
    ...props.references
      .filter((one) => !/[=]|^(task|event|before)\.|^today$/.test(one.path))
      .flatMap((reference) => withParts({ ...reference, path: `record.${reference.path}` })),
    ...props.kind.fields.map((field) => plain(`before.${field.key}`, `${field.label} before the change`)),
    ...props.references.filter((reference) => reference.path.startsWith('task.')).flatMap(withParts),
    plain('event.who', 'Who did it'),
    ...PARTS.map((part) => plain(`event.who.${part.key}`, `Who did it · ${part.words}`)),
    plain('event.said', 'What was said'),
    plain('event.at', 'When it happened'),
    plain('today', 'Today'),
    plain('rule', 'Name of this rule'),
  ]
})

async function insert(path: string | undefined) {
  if (!path) return
  const input = box.value!
  const at = input.selectionStart ?? value.value.length
  const blank = `{{ ${path} }}`
  value.value = value.value.slice(0, at) + blank + value.value.slice(input.selectionEnd ?? at)
  await nextTick()
  input.focus()
  input.setSelectionRange(at + blank.length, at + blank.length)
}
</script>

<template>
  <textarea
    v-if="long"
    :id="id"
    ref="box"
    v-model="value"
    class="input"
    :rows="rows ?? 4"
    :aria-label="label"
    :aria-invalid="invalid || undefined"
  />
  <input
    v-else
    :id="id"
    ref="box"
    v-model="value"
    class="input"
    :aria-label="label"
    :aria-invalid="invalid || undefined"
    autocomplete="off"
  />
  <FieldPicker
    :model-value="undefined"
    :references="blanks"
    :label="`Insert into ${label}`"
    blank="Insert a blank: type part of a field’s name"
    class="mt-1"
    @update:model-value="insert"
  />
</template>

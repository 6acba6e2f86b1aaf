import { h } from 'vue'
import AssignEditor from '@/rule/AssignEditor.vue'
import DateRuleEditor from '@/rule/DateRuleEditor.vue'
import type { Assign, DateRule } from '@/rule/model'
import PaperEditor from '@/rule/PaperEditor.vue'
import TargetPicker from '@/rule/TargetPicker.vue'
import TemplateInput from '@/rule/TemplateInput.vue'
import type { Schemas } from '@/api/client'
import { useSetup } from '@/state/setup'
import { answers, choice, fills, link, number, row, WIDE, type FieldForm } from './commonForms'
import { hintOf, type FieldForms } from './fields'

const template =
  (long: boolean): FieldForm =>
  ({ field, said, put, wrong, around, ...rest }) =>
    row({ field, said, put, wrong, around, ...rest }, true, ({ id }) =>
      h(TemplateInput, {
        id,
        modelValue: (said[field.key] as string | undefined) ?? '',
        references: around!.references,
        kind: around!.kind,
        label: field.label,
        long,
        invalid: !!wrong[field.key],
        'onUpdate:modelValue': (text: string) => put({ [field.key]: text }),
      }),
    )

/** A second one to fall back on is asked for when the first may be nobody. */
const assign: FieldForm = ({ field, form, said, put, wrong, around }) => {
  const second = field.key === 'fallback'
  const ways = useSetup().setup.value.vocabulary.ways_to_assign
  const first = said.assign as Assign | undefined
  if (second && !said.fallback && !ways.find((one) => one.name === first?.to)?.needs_fallback) return null
  return h(AssignEditor, {
    modelValue: said[field.key] as Assign | undefined,
    label: field.label,
    references: around!.references,
    noTask: form === 'kit',
    sure: second,
    optional: second,
    wrong: wrong[field.key],
    class: WIDE,
    'onUpdate:modelValue': (value: Assign | undefined) => put({ [field.key]: value }),
  })
}

const date: FieldForm = ({ field, said, put, wrong, around }) =>
  h(DateRuleEditor, {
    modelValue: said[field.key] as DateRule | undefined,
    label: field.label,
    references: around!.dated ?? around!.references,
    froms: around!.froms,
    wrong: wrong[field.key],
    class: WIDE,
    'onUpdate:modelValue': (value: DateRule | undefined) => put({ [field.key]: value }),
  })

const flag: FieldForm = ({ field, form, said, put }) =>
  h('label', { class: `${WIDE} mb-2 flex items-start gap-2` }, [
    h('input', {
      type: 'checkbox',
      class: 'mt-[3px]',
      checked: said[field.key] === true,
      onChange: (event: Event) => put({ [field.key]: (event.target as HTMLInputElement).checked || undefined }),
    }),
    h('span', [field.label, ' ', h('span', { class: 'text-muted' }, hintOf(field, form))]),
  ])

const target: FieldForm = ({ field, said, put, wrong, around }) =>
  h(TargetPicker, {
    modelValue: said[field.key] as string | undefined,
    kind: around!.kind,
    earlier: around!.earlier ?? [],
    label: field.label,
    wrong: wrong[field.key],
    class: WIDE,
    'onUpdate:modelValue': (value: string | undefined) => put({ [field.key]: value }),
  })

const paper: FieldForm = ({ field, said, put, wrong, around }) =>
  h(PaperEditor, {
    modelValue: said[field.key] as Schemas['Paper'] | undefined,
    kind: around!.kind,
    references: around!.references,
    wrong: wrong[field.key],
    class: WIDE,
    'onUpdate:modelValue': (value: Schemas['Paper'] | undefined) => put({ [field.key]: value }),
  })

/** Nothing can be under the first action. */
const under: FieldForm = (props, context) => ((props.around!.index ?? 0) > 0 ? number(props, context) : null)

/** The forms of a task that a rule or kit makes: texts with blanks, dates that are worked out. */
export const writtenForms = {
  lines: template(false),
  line: template(false),
  text: template(true),
  link,
  day: date,
  moment: date,
  due: date,
  choice,
  level: choice,
  number,
  answers,
  fills,
  flag,
  under,
  assign,
  target,
  paper,
} satisfies FieldForms

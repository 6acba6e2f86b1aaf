import { h, type Component, type FunctionalComponent } from 'vue'
import { sentenceCase, wayWords } from '@/lib/words'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { keptFor } from '@/rule/model'
import { useSetup } from '@/state/setup'
import { hintOf, type FieldProps, type TaskField } from './fields'

/** A form of one field. */
export type FieldForm = FunctionalComponent<FieldProps>
type Slot = { id: string; describedby: string }

/** Over both columns of the editor. */
export const WIDE = 'sm:col-span-2'
const isRule = (form: FieldProps['form']) => form === 'rule' || form === 'kit'

/** What the value of a field stands under: its key in a rule or kit, its name in the API in a form. */
export const nameOf = (field: TaskField, form: FieldProps['form']): string =>
  isRule(form) ? field.key : field.names[0]!

/** Whether there is a blank still, in a task that a rule has filled in. */
const blank = ({ field, form, said }: FieldProps) =>
  !isRule(form) && /_{3,}/.test(String(said[nameOf(field, form)] ?? ''))

/** A label over its control, over both columns or one. */
export function row(props: FieldProps, wide: boolean, control: (slot: Slot) => unknown, plain = false) {
  const { field, form, wrong } = props
  return h(
    FormRow,
    {
      label: isRule(form) ? field.label : field.asked,
      wrong: wrong[nameOf(field, form)],
      hint: blank(props) ? 'Fill in what stands as ___.' : hintOf(field, form),
      plain,
      class: wide ? WIDE : '',
    },
    { default: control },
  )
}

/** A box to type in. `read` makes of the text what is said. */
export const box =
  (
    type: string,
    wide: boolean,
    more: Record<string, unknown> = {},
    read = (text: string): unknown => text,
  ): FieldForm =>
  (props) => {
    const name = nameOf(props.field, props.form)
    return row(props, wide, ({ id, describedby }) =>
      h(type === 'long' ? 'textarea' : 'input', {
        id,
        class: ['input', blank(props) ? 'bg-amber-bg' : ''],
        ...(type === 'long' ? { rows: 3 } : { type }),
        ...more,
        value: props.said[name] ?? '',
        'aria-invalid': props.wrong[name] ? true : undefined,
        'aria-describedby': describedby,
        [type === 'number' ? 'onChange' : 'onInput']: (event: Event) =>
          props.put({ [name]: read((event.target as HTMLInputElement).value) }),
      }),
    )
  }

/** One of some. */
export const choice: FieldForm = (props) => {
  const name = nameOf(props.field, props.form)
  const words = props.field.key === 'way' ? wayWords : sentenceCase
  return row(
    props,
    false,
    () =>
      h(SelectBox as Component, {
        modelValue: props.said[name] ?? props.field.usual,
        label: isRule(props.form) ? props.field.label : props.field.asked,
        wide: true,
        options: props.field.choices.map((value) => ({ value, words: words(value) })),
        'onUpdate:modelValue': (value: string) => props.put({ [name]: value }),
      }),
    true,
  )
}

/** The paper that whoever does the task makes by one press; asked for where there is one. */
export const fills: FieldForm = (props) => {
  const name = nameOf(props.field, props.form)
  const all = useSetup().setup.value.papers
  const papers = props.around ? keptFor(all, props.around.kind) : all
  const said = props.said[name] as string | null | undefined
  if (!papers.length && !said) return null
  const gone = said && !papers.some((one) => one.key === said) ? [{ value: said, words: 'a paper taken away' }] : []
  return row(
    props,
    true,
    () =>
      h(SelectBox as Component, {
        modelValue: said ?? '',
        label: isRule(props.form) ? props.field.label : props.field.asked,
        wide: true,
        options: [{ value: '', words: 'none' }, ...papers.map((one) => ({ value: one.key, words: one.name })), ...gone],
        'onUpdate:modelValue': (value: string) =>
          props.put({ [name]: value || (isRule(props.form) ? undefined : null) }),
      }),
    true,
  )
}

/** Several short texts, one a line. */
export const answers: FieldForm = (props) => {
  const name = nameOf(props.field, props.form)
  return row(props, true, ({ id }) =>
    h(LinesInput, {
      id,
      modelValue: (props.said[name] as string[] | undefined) ?? [],
      'onUpdate:modelValue': (lines: string[]) =>
        props.put({ [name]: lines.length || !isRule(props.form) ? lines : undefined }),
    }),
  )
}

const whole = (text: string) => Number(text) || undefined

/** A number from 1. */
export const number: FieldForm = box('number', false, { min: 1, max: 999 }, whole)

/** An address of the web. */
export const link: FieldForm = box('text', true, { placeholder: 'https://' })

import { h } from 'vue'
import ClockInput from '@/parts/ClockInput.vue'
import FormRow from '@/parts/FormRow.vue'
import { answers, box, choice, fills, link, number, row, type FieldForm } from './commonForms'
import type { FieldForms } from './fields'

/** A day, and beside it the time of day. */
const due: FieldForm = (props) => {
  const [on, at] = props.field.names as [string, string]
  return [
    row(props, false, ({ id }) =>
      h('input', {
        id,
        type: 'date',
        class: 'input',
        value: props.said[on],
        onInput: (event: Event) => props.put({ [on]: (event.target as HTMLInputElement).value }),
      }),
    ),
    h(
      FormRow,
      { label: 'At', wrong: props.wrong[at] },
      {
        default: ({ id }: { id: string }) =>
          h(ClockInput, {
            id,
            modelValue: props.said[at] as string,
            'onUpdate:modelValue': (value: string | undefined) => props.put({ [at]: value ?? '' }),
          }),
      },
    ),
  ]
}
const none: FieldForm = () => null

/** The forms of a task that somebody makes or changes: plain texts and dates. */
export const plainForms = {
  lines: box('text', true, { maxlength: 500 }),
  line: box('text', true, { maxlength: 500 }),
  text: box('long', true),
  link,
  day: box('date', false),
  moment: box('datetime-local', false),
  due,
  choice,
  level: choice,
  number,
  answers,
  fills,
  // Who, and what it is about, are asked in a way of their own; the rest stands in rules and kits alone.
  assign: none,
  target: none,
  flag: none,
  under: none,
  paper: none,
} satisfies FieldForms

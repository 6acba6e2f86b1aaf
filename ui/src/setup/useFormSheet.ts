import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { problemsAt, type FormBody } from './formAsks'
import { useChange } from './useChange'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/**
 * The sheet of one form: its draft as it is typed, what is wrong with it and how it looks, both asked for a moment
 * after the last key; saving, publishing, closing and taking away.
 */
export function useFormSheet(key: string) {
  const change = useChange()
  const { say } = useNotices()
  const sheet = shallowRef<Schemas['FormSheet'] | null>(null)
  const draft = ref<FormBody>({})
  const name = ref('')
  const html = ref<string | null>(null)
  const problems = shallowRef<Schemas['FormProblem'][]>([])
  const lost = ref('')

  function take(fresh: Schemas['FormSheet']) {
    sheet.value = fresh
    draft.value = copy({ items: [], fixed: {}, origins: [], ...fresh.form })
    name.value = fresh.name
    problems.value = fresh.problems
  }
  const plain = computed<FormBody>(() => ({ ...draft.value, kind: sheet.value?.kind ?? '' }))
  const text = computed(() => JSON.stringify(plain.value))
  const kept = computed(() =>
    JSON.stringify({ items: [], fixed: {}, origins: [], ...sheet.value?.form, kind: sheet.value?.kind }),
  )
  const typed = computed(() => !!sheet.value && (text.value !== kept.value || name.value !== sheet.value.name))
  const settled = refDebounced(text, 300)
  watch(settled, async (body) => {
    if (!sheet.value) return
    const form = JSON.parse(body) as FormBody
    const answer = await answerOf(api.POST('/api/forms/preview', { body: { form } })).catch(() => null)
    if (!answer || body !== text.value) return
    html.value = answer.html
    problems.value = answer.problems
  })

  const load = async () => take(await answerOf(api.GET('/api/forms/sheet', { params: { query: { key } } })))
  load().catch((problem: Error) => (lost.value = problem.message))

  const step = (call: () => Promise<Schemas['FormSheet']>, said: string) =>
    change.send(async () => take(await call())).then((done) => (done && say(said), done))
  const written = () => {
    const { kind: _, ...form } = plain.value
    const body = { key, seen: sheet.value!.seen, form: { ...form, name: name.value } }
    return answerOf(api.PUT('/api/forms', { body }))
  }
  const save = () => step(written, 'The draft is saved.')
  async function publish() {
    const done = await change.send(async () => {
      if (typed.value) take(await written())
      take(await answerOf(api.POST('/api/forms/publish', { body: { key, seen: sheet.value!.seen } })))
    })
    if (done) say(`${name.value} is published as version ${sheet.value!.number}.`)
  }
  const setOpen = (open: boolean) =>
    step(
      () => answerOf(api.POST('/api/forms/open', { body: { key, open } })),
      open ? `${name.value} is open again.` : `${name.value} is closed.`,
    )
  /** Brings an older version into the draft; it is published as any other draft is. */
  async function lookAt(number: number) {
    const query = { key, number: String(number) }
    const found = await answerOf(api.GET('/api/forms/version', { params: { query } }))
    draft.value = copy({ items: [], fixed: {}, origins: [], ...found.form })
  }
  const retire = () => {
    const anyway = change.leaning.value && !!change.wrong.value.form
    return change.send(() => answerOf(api.DELETE('/api/forms', { body: { key, anyway } })))
  }
  const wrongAt = computed(() => problemsAt(problems.value))
  return { ...change, sheet, draft, name, html, typed, lost, wrongAt, save, publish, setOpen, lookAt, retire }
}

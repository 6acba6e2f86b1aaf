import './form.css'

/**
 * The page of a form for visitors, which works without this too. With it nothing that was typed or chosen is lost when
 * something is wrong, and the page stays where it is.
 */
type Answer = { thanks?: string; wrong?: Record<string, string>; stamp?: string; error?: string }

const LATER = 'It could not be sent just now. What you wrote still stands here; try again in a moment.'

function element(name: string, words: string, attributes: Record<string, string> = {}) {
  const made = document.createElement(name)
  made.textContent = words
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value)
  return made
}

function controls(row: Element) {
  return [...row.querySelectorAll<HTMLElement>('input, select, textarea')]
}

/** Where a link from the list of what is wrong leads: the field, or the question over several boxes. */
function place(row: Element) {
  return row.querySelector('legend') ?? controls(row)[0]!
}

function describe(control: HTMLElement, id: string, add: boolean) {
  const ids = new Set((control.getAttribute('aria-describedby') ?? '').split(' ').filter(Boolean))
  if (add) ids.add(id)
  else ids.delete(id)
  if (ids.size) control.setAttribute('aria-describedby', [...ids].join(' '))
  else control.removeAttribute('aria-describedby')
}

function clear(form: HTMLFormElement) {
  for (const row of form.querySelectorAll('.row')) {
    const said = row.querySelector('.bad')
    for (const control of controls(row)) {
      control.removeAttribute('aria-invalid')
      if (said) describe(control, said.id, false)
    }
    said?.remove()
  }
}

function mark(form: HTMLFormElement, ask: string, sentence: string, list: Element) {
  const row = form.querySelector(`.row[data-ask="${CSS.escape(ask)}"]`)
  if (!row) return false
  const at = place(row)
  const said = element('p', sentence, { class: 'bad', id: `${at.id}-wrong` })
  const first = controls(row)[0]!
  const before = row.matches('fieldset') ? first.closest('label')! : (first.closest('.unit, label.check') ?? first)
  before.before(said)
  for (const control of controls(row)) {
    control.setAttribute('aria-invalid', 'true')
    describe(control, said.id, true)
  }
  const item = document.createElement('li')
  item.append(element('a', sentence, { href: `#${at.id}` }))
  list.append(item)
  return true
}

function showWrong(form: HTMLFormElement, wrong: Record<string, string>) {
  const box = document.getElementById('wrong')!
  const list = box.querySelector('ul')!
  list.replaceChildren()
  clear(form)
  for (const [ask, sentence] of Object.entries(wrong)) if (ask) mark(form, ask, sentence, list)
  box.querySelector('p')!.textContent = wrong[''] ?? 'Some of it is not right yet.'
  box.hidden = false
  box.focus()
}

function showThanks(form: HTMLFormElement, words: string) {
  document.getElementById('wrong')?.remove()
  document.querySelectorAll('.intro').forEach((one) => one.remove())
  const said = words.split(/\n+/).map((text) => element('p', text, { class: 'said' }))
  const box = element('div', '', { role: 'status', tabindex: '-1' })
  box.append(...said)
  form.replaceWith(box)
  box.focus()
}

async function answerTo(form: HTMLFormElement): Promise<Answer> {
  try {
    const headers = { accept: 'application/json' }
    const sent = await fetch(form.action, { method: 'POST', headers, body: new FormData(form), credentials: 'omit' })
    return (await sent.json()) as Answer
  } catch {
    return { wrong: { '': LATER } }
  }
}

const form = document.querySelector<HTMLFormElement>('main form')
form?.addEventListener('submit', async (event) => {
  event.preventDefault()
  const button = form.querySelector<HTMLButtonElement>('button[type=submit]')!
  if (button.getAttribute('aria-busy') === 'true') return
  button.setAttribute('aria-busy', 'true')
  const answer = await answerTo(form)
  button.removeAttribute('aria-busy')
  if (answer.stamp) form.querySelector<HTMLInputElement>('input[name=stamp]')!.value = answer.stamp
  if (answer.thanks !== undefined) showThanks(form, answer.thanks)
  else showWrong(form, answer.wrong ?? { '': answer.error ?? LATER })
})

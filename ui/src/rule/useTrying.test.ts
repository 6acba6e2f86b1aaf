import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref, type EffectScope } from 'vue'
import { ApiError } from '@/api/client'
import { blankRule, type Rule } from './model'
import { useTrying } from './useTrying'

type Answer = (body: { rule: Rule; record_id?: number }) => unknown
const answers = vi.hoisted(() => ({}) as Record<string, Answer>)

vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { POST: (path: string, call: { body: never }) => Promise.resolve().then(() => answers[path]!(call.body)) },
  answerOf: (answer: Promise<unknown>) => answer,
}))

const found = (name: string) => ({
  looked_at: 2,
  counts: { '1': 1, skip: 1 },
  rows: [
    { id: 1, title: `${name} no`, branches: [], why: 'Value is empty', failed: false },
    { id: 2, title: `${name} yes`, branches: ['1'], why: 'Value €5', failed: false },
  ],
  next: null,
})

describe('trying the rule on screen', () => {
  let scope: EffectScope
  const rule = ref<Rule | null>(null)
  beforeEach(() => {
    vi.useFakeTimers()
    scope = effectScope()
    rule.value = { ...blankRule('deal', 'yenvo-rule/1'), name: 'One' }
    answers['/api/try/check'] = () => ({ problems: [], notes: [] })
    answers['/api/try'] = ({ rule }) => found(rule.name)
    answers['/api/try/one'] = ({ record_id }) => ({ state: 'run', why: `record ${record_id}`, tasks: [], effects: [] })
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })

  const begun = (may = true) => scope.run(() => useTrying(rule, ref(3), ref(may)))!
  const rest = () => vi.advanceTimersByTimeAsync(400)

  it('looks a moment after a change, and explains the first record on which it would run', async () => {
    const trying = begun()
    rule.value = { ...rule.value!, name: 'Two' }
    await nextTick()
    expect(trying.found.value).toBeNull()
    await rest()
    expect(trying.found.value?.rows[1]?.title).toBe('Two yes')
    expect([trying.chosen.value, trying.title.value, trying.plan.value?.why]).toEqual([2, 'Two yes', 'record 2'])
  })

  it('stays with the record that somebody chose', async () => {
    const trying = begun()
    trying.choose(1, 'One no')
    trying.run()
    await rest()
    expect([trying.chosen.value, trying.plan.value?.why]).toEqual([1, 'record 1'])
  })

  it('shows the answer about the rule as it stands now, also when an earlier one comes later', async () => {
    const trying = begun()
    const late: ((value: unknown) => void)[] = []
    answers['/api/try'] = ({ rule }) =>
      rule.name === 'Slow' ? new Promise((done) => late.push(done)) : found(rule.name)
    rule.value = { ...rule.value!, name: 'Slow' }
    await rest()
    rule.value = { ...rule.value!, name: 'Quick' }
    await rest()
    late.forEach((done) => done(found('Slow')))
    await rest()
    expect(trying.found.value?.rows[0]?.title).toBe('Quick no')
  })

  it('says how much is missing where it cannot be tried, and shows no answer of before', async () => {
    const trying = begun()
    trying.run()
    await rest()
    const problems = [{ path: ['trigger'], where: 'trigger', text: 'must be given', line: null }]
    answers['/api/try'] = () => {
      throw new ApiError(422, { problems })
    }
    rule.value = { ...rule.value!, name: 'Broken' }
    await rest()
    expect(trying.wrong.value).toBe('This draft cannot be tried yet: 1 thing is missing or wrong. See Checks.')
    expect([trying.found.value, trying.plan.value, trying.busy.value]).toEqual([null, null, false])
  })

  it('asks nothing of live records for somebody who may not', async () => {
    const trying = begun(false)
    answers['/api/try'] = () => expect.unreachable()
    trying.run()
    await rest()
    expect(trying.found.value).toBeNull()
  })
})

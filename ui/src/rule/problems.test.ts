import { describe, expect, it } from 'vitest'
import { blankRule } from './model'
import { isBroken, placeOf, spokenPlace, wrongInAction } from './problems'

const problem = (...path: (string | number)[]) => ({ path, where: '', text: 'must have words', line: null })
const rule = { ...blankRule('deal', 'yenvo-rule/1'), otherwise: [] }

describe('problems of a rule', () => {
  it('belong to a row, and within an action to a setting', () => {
    const found = [problem('branches', 0, 'do', 1, 'title'), problem('otherwise', 0, 'assign')]
    expect([isBroken(found, rule, 0), isBroken(found, rule, 1), isBroken([found[0]!], rule, 1)]).toEqual([
      true,
      true,
      false,
    ])
    expect([
      wrongInAction(found, rule, 0, 1),
      wrongInAction(found, rule, 0, 0),
      wrongInAction(found, rule, 1, 0),
    ]).toEqual([{ title: 'It must have words.' }, {}, { assign: 'It must have words.' }])
  })

  it('lead to the place where they can be mended, and say it', () => {
    const all = [
      problem('branches', 0, 'do', 1, 'title'),
      problem('branches', 2, 'if', 'all', 0),
      problem('otherwise', 0),
      problem('only_if'),
      problem('trigger', 'stages'),
      problem('trigger', 'any', 1, 'code'),
    ]
    expect(all.map((one) => placeOf(one, rule))).toEqual([
      { what: 'action', row: 0, index: 1 },
      { what: 'branch', row: 2 },
      { what: 'action', row: 1, index: 0 },
      { what: 'only_if' },
      { what: 'checks' },
      { what: 'checks' },
    ])
    expect(all.map(spokenPlace)).toEqual([
      'Branch 1, action 2, title',
      'Branch 3',
      'Otherwise, action 1',
      'Only if',
      'Trigger',
      'Trigger 2',
    ])
  })
})

// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref, type EffectScope } from 'vue'
import { blankAction, blankRule, type Action, type Place, type Rule } from './model'
import { useSheet } from './useSheet'

const task = (title: string): Action => ({ ...blankAction(), title })
const titles = (rule: Rule | null) => rule!.branches.map((branch) => branch.do.map((action) => action.title))

describe('the sheet of a rule', () => {
  let scope: EffectScope
  const rule = ref<Rule | null>(null)
  const place = ref<Place>({ what: 'try' })
  const fixed = ref(false)

  beforeEach(() => {
    localStorage.clear()
    scope = effectScope()
    fixed.value = false
    place.value = { what: 'try' }
    rule.value = {
      ...blankRule('deal', 'yenvo-rule/1'),
      branches: [
        { if: { all: [] }, do: [task('One'), task('Two')] },
        { if: { all: [] }, do: [task('Three')] },
      ],
    }
  })
  afterEach(() => {
    scope.stop()
    vi.restoreAllMocks()
  })
  const begun = () => scope.run(() => useSheet(rule, place, fixed))!
  const press = (key: string, more: KeyboardEventInit = {}) =>
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))

  it('takes back every change and puts it on again, typing in one place as one step', () => {
    const clock = vi.spyOn(performance, 'now').mockReturnValue(0)
    const sheet = begun()
    for (const name of ['S', 'Su', 'Survey']) sheet.change({ ...rule.value!, name })
    clock.mockReturnValue(5000)
    sheet.change({ ...rule.value!, branching: 'every' })
    sheet.undo()
    expect([rule.value!.name, rule.value!.branching]).toEqual(['Survey', 'first'])
    sheet.undo()
    expect([rule.value!.name, sheet.canUndo.value]).toEqual(['', false])
    sheet.redo()
    sheet.redo()
    expect([rule.value!.name, rule.value!.branching, sheet.canRedo.value]).toEqual(['Survey', 'every', false])
    sheet.undo()
    sheet.change({ ...rule.value!, name: 'Another way' })
    expect(sheet.canRedo.value).toBe(false)
  })

  it('moves what is chosen, within its row and no further', () => {
    const sheet = begun()
    place.value = { what: 'action', row: 0, index: 0 }
    sheet.moveBy(1)
    expect([titles(rule.value), place.value]).toEqual([
      [['Two', 'One'], ['Three']],
      { what: 'action', row: 0, index: 1 },
    ])
    sheet.moveBy(1)
    expect(titles(rule.value)).toEqual([['Two', 'One'], ['Three']])
    sheet.carryAction({ row: 0, index: 1 }, { row: 1, index: 0 })
    expect([titles(rule.value), place.value]).toEqual([
      [['Two'], ['One', 'Three']],
      { what: 'action', row: 1, index: 0 },
    ])
    sheet.carryBranch(0, 2)
    expect(titles(rule.value)).toEqual([['One', 'Three'], ['Two']])
  })

  it('carries a copy over to another rule, which does not change with the first', async () => {
    const sheet = begun()
    place.value = { what: 'action', row: 0, index: 0 }
    expect(sheet.copy()).toBe(true)
    await nextTick()
    rule.value = { ...blankRule('ticket', 'yenvo-rule/1'), branches: [{ if: { all: [] }, do: [task('Here')] }] }
    place.value = { what: 'branch', row: 0 }
    expect(sheet.paste()).toBe(true)
    expect(titles(rule.value)).toEqual([['Here', 'One']])
    place.value = { what: 'try' }
    expect(sheet.copy()).toBe(false)
  })

  it('removes what is chosen, and the otherwise with its last action', () => {
    const sheet = begun()
    rule.value = { ...rule.value!, otherwise: [task('Else')] }
    place.value = { what: 'action', row: 2, index: 0 }
    sheet.remove()
    expect([rule.value!.otherwise, place.value]).toEqual([undefined, { what: 'try' }])
    place.value = { what: 'branch', row: 0 }
    sheet.remove()
    expect(titles(rule.value)).toEqual([['Three']])
  })

  it('listens to keys, but not where something is typed, nor where the rule is only read', () => {
    const sheet = begun()
    sheet.change({ ...rule.value!, name: 'Survey' })
    const field = document.body.appendChild(document.createElement('input'))
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }))
    expect(rule.value!.name).toBe('Survey')
    press('z', { ctrlKey: true })
    expect(rule.value!.name).toBe('')
    press('z', { ctrlKey: true, shiftKey: true })
    expect(rule.value!.name).toBe('Survey')
    fixed.value = true
    press('z', { ctrlKey: true })
    sheet.change({ ...rule.value!, name: 'Written by nobody' })
    expect(rule.value!.name).toBe('Survey')
    field.remove()
  })
})

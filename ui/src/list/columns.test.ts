import { describe, expect, it } from 'vitest'
import type { Kind } from '@/state/setup'
import { columnsOf } from './columns'

const field = (key: string, more = {}) => ({ key, label: key, type: 'text', built_in: false, formula: null, ...more })
const kind = {
  stages: [{ key: 'one', label: 'One' }],
  fields: [
    ...['title', 'stage', 'owner', 'changed'].map((key) => field(key, { built_in: true })),
    ...['a', 'b', 'c', 'd', 'e', 'f'].map((key) => field(key)),
    field('long', { type: 'long_text' }),
    field('sum', { formula: 'a + b' }),
  ],
} as unknown as Kind
const keys = (chosen: string) => columnsOf(kind, chosen).map((one) => one.key)

describe('columns of a list', () => {
  it('are the first fields, and what is worked out, unless others are chosen', () => {
    expect(keys('')).toEqual(['title', 'stage', 'a', 'b', 'c', 'd', 'e', 'sum', 'owner', 'changed'])
  })

  it('are those that were chosen, once each and in order, the title first, without what is gone', () => {
    expect(keys('f,gone,long,f,title')).toEqual(['title', 'f', 'long'])
  })
})

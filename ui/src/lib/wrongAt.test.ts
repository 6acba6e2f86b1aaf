import { describe, expect, it } from 'vitest'
import { ApiError } from '@/api/client'
import { wrongAt } from './wrongAt'

describe('what was refused', () => {
  const refusal = {
    error: 'Nothing was saved.',
    fields: { title: 'Needs words.', depth: 'Too deep.', record: 'Too deep.' },
  }

  it('stands at the fields that are drawn, and the rest once for the whole form', () => {
    const found = wrongAt(new ApiError(422, refusal), ['title'])
    expect([found.title, found['']]).toEqual(['Needs words.', 'Too deep.'])
    expect(wrongAt(new ApiError(422, refusal), ['title', 'depth', 'record'])['']).toBe('')
  })

  it('is one sentence where no field is named', () => {
    expect(wrongAt(new Error('The line is down.'), ['title'])).toEqual({ '': 'The line is down.' })
  })
})

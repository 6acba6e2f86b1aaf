import { describe, expect, it } from 'vitest'
import { pagesNamed, placeOf, type Found } from './search'

const one = (id: string, record: number | null = null) => ({ id, record }) as Found

describe('what was found', () => {
  it('is looked at where it stands', () => {
    expect(placeOf('records', one('7'))).toBe('/record/7')
    expect(placeOf('notes', one('9', 7))).toBe('/record/7')
    expect(placeOf('tasks', one('3'))).toBe('/worklist?who=all&task=3')
    expect(placeOf('people', one('maren'))).toBe('/worklist?who=maren')
  })
})

describe('pages', () => {
  const pages = [
    { to: '/bulk', words: 'Many at once' },
    { to: '/trash', words: 'Trash' },
  ]
  it('are found by the beginnings of their words, in whatever order', () => {
    expect(pagesNamed(pages, 'onc man').map((page) => page.to)).toEqual(['/bulk'])
    expect(pagesNamed(pages, 'rash')).toEqual([])
    expect(pagesNamed(pages, '')).toHaveLength(2)
  })
})

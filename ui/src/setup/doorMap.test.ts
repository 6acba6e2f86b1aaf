import { describe, expect, it } from 'vitest'
import type { Kind } from '@/state/setup'
import { guess, pathsOf, readSample } from './doorMap'

const field = (key: string, label: string, type = 'text', more = {}) =>
  ({ key, label, type, built_in: false, formula: null, choices: [], ...more }) as unknown as Kind['fields'][number]
const kind = {
  fields: [
    field('title', 'Title', 'text', { built_in: true }),
    field('made', 'Made', 'datetime', { built_in: true }),
    field('stars', 'Stars', 'number'),
    field('web_link', 'Web link', 'url'),
  ],
} as unknown as Kind

describe('a sample of a door', () => {
  it('is read to its single values, in lists too', () => {
    const message = { id: '1', data: { stars: 5, lines: [{ price: 2 }], none: null, 'a b': 1 } }
    expect(pathsOf(message)).toEqual([
      { path: 'id', value: '1' },
      { path: 'data.stars', value: 5 },
      { path: 'data.lines.0.price', value: 2 },
      { path: 'data.none', value: null },
    ])
  })

  it('fills a first table with what is called alike', () => {
    const message = { data: { Title: 'x', review: { stars: 4 }, WebLink: 'https://a', made: 'now' } }
    expect(guess(kind, message)).toEqual([
      { field: 'title', path: 'data.Title' },
      { field: 'stars', path: 'data.review.stars' },
      { field: 'web_link', path: 'data.WebLink' },
    ])
  })

  it('says what is none', () => {
    expect(readSample('{"a": 1}').message).toEqual({ a: 1 })
    expect([readSample('[1]').wrong, readSample('x').wrong]).toEqual([
      'A sample is one event, written in curly brackets.',
      'This is no JSON. Paste one event as the program sends it.',
    ])
  })
})

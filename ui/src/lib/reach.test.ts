import { describe, expect, it } from 'vitest'
import { reachOf } from './reach'

describe('a press on a value', () => {
  it('writes, calls or opens, and does nothing with what is none', () => {
    expect(reachOf('email', 'aldo+boat@sea.example')).toBe('mailto:aldo%2Bboat@sea.example')
    expect(reachOf('email', 'a?bcc=b@sea.example')).toBe('mailto:a%3Fbcc%3Db@sea.example')
    expect(reachOf('phone', '+353 (0)555 014-7')).toBe('tel:+35305550147')
    expect(reachOf('phone', '0555 1')).toBe('tel:05551')
    expect(reachOf('url', 'https://sea.example')).toBe('https://sea.example')
    expect(reachOf('url', 'javascript:alert(1)')).toBeUndefined()
    expect([reachOf('phone', '---'), reachOf('text', 'x'), reachOf('email', null)]).toEqual([
      undefined,
      undefined,
      undefined,
    ])
  })
})

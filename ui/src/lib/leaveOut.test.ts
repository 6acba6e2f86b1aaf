import { describe, expect, it } from 'vitest'
import { tidy } from '@/rule/model'
import { leaveOut } from './leaveOut'

describe('what says nothing', () => {
  it('is left out as asked', () => {
    const said = { to: 'owner', text: '', parts: false, due: undefined }
    expect(leaveOut(said, (value) => value === undefined)).toEqual({ to: 'owner', text: '', parts: false })
    expect(leaveOut(said, (value, key) => !value && key !== 'text')).toEqual({ to: 'owner', text: '' })
  })

  it('is no part of a task, but for a title that is empty still', () => {
    expect(tidy({ title: '', text: '', way: null, place: 0, answers: [] })).toEqual({
      title: '',
      place: 0,
      answers: [],
    })
    expect(tidy({ title: null, log: undefined })).toEqual({})
  })
})

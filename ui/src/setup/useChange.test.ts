import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { useChange } from './useChange'

const state = vi.hoisted(() => ({ read: () => Promise.resolve() }))
vi.mock('@/state/setup', () => ({
  loadSetup: () => state.read(),
  useSetup: () => ({ setup: ref({ stamp: 1 }) }),
}))

describe('a change of the set-up', () => {
  beforeEach(() => (state.read = () => Promise.resolve()))

  it('is sent once, however often it is pressed meanwhile', async () => {
    const { send } = useChange()
    let over = () => {}
    const act = vi.fn(() => new Promise<void>((done) => (over = done)))
    const first = send(act)
    await Promise.resolve()
    const second = send(act)
    over()
    expect([await first, await second, act.mock.calls.length]).toEqual([true, false, 1])
  })

  it('is sent when the set-up has been read anew, if it is pressed while that is read', async () => {
    const { send } = useChange()
    let over = () => {}
    state.read = () => new Promise<void>((done) => (over = done))
    const first = send(() => Promise.resolve())
    await new Promise((done) => setTimeout(done))
    const act = vi.fn(() => Promise.resolve())
    const second = send(act)
    await new Promise((done) => setTimeout(done))
    expect(act).not.toHaveBeenCalled()
    state.read = () => Promise.resolve()
    over()
    expect([await first, await second, act.mock.calls.length]).toEqual([true, true, 1])
  })
})

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref, type EffectScope } from 'vue'
import { ApiError } from '@/api/client'
import { useDraft } from './useDraft'

type Body = { name: string }
type Kept = { id: number; stamp: number; body: Body }

/** A server that keeps one thing and refuses an old stamp, as the real one does. */
function server() {
  let kept: Kept | null = null
  const written: string[] = []
  const keep = (body: Body) => {
    kept = { id: 7, stamp: (kept?.stamp ?? 0) + 1, body }
    written.push(body.name)
    return kept
  }
  return {
    written,
    stand: () => kept,
    byAnother: (name: string) => keep({ name }),
    calls: {
      get: async () => kept!,
      make: async (body: Body) => keep(body),
      keep: async (_id: number, body: Body, stamp: number) => {
        if (stamp !== kept!.stamp) throw new ApiError(409, { error: 'Tobias Kell changed it meanwhile.' })
        return keep(body)
      },
      bodyOf: (one: Kept) => one.body,
    },
  }
}

describe('a draft', () => {
  let scope: EffectScope
  beforeEach(() => {
    vi.useFakeTimers()
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })

  function begun(house = server()) {
    const id = ref<number | null>(null)
    const made = vi.fn((number: number) => (id.value = number))
    const draft = scope.run(() => useDraft<Body, Kept>(id, house.calls, made))!
    draft.begin({ name: '' })
    const type = async (name: string) => {
      draft.body.value = { name }
      await nextTick()
    }
    const rest = async () => {
      await vi.advanceTimersByTimeAsync(1000)
    }
    return { house, draft, made, type, rest }
  }

  it('is made once and then kept, a moment after each change, with what was typed last', async () => {
    const { house, draft, made, type, rest } = begun()
    expect(draft.dirty.value).toBe(false)
    await type('S')
    await type('Survey')
    expect(house.written).toEqual([])
    await rest()
    await type('Survey booked')
    await rest()
    expect(house.written).toEqual(['Survey', 'Survey booked'])
    expect(made.mock.calls).toEqual([[7]])
    expect([draft.dirty.value, draft.currentStamp(), draft.madeHere(7)]).toEqual([false, 2, true])
  })

  it('is written one after the other, so that nothing overtakes', async () => {
    const slow = server()
    const { make } = slow.calls
    slow.calls.make = async (body) => {
      await new Promise((done) => setTimeout(done, 50))
      return make(body)
    }
    const { house, draft, made, type } = begun(slow)
    await type('One')
    const first = draft.save()
    await type('Two')
    const second = draft.save()
    await vi.advanceTimersByTimeAsync(200)
    expect(await Promise.all([first, second])).toEqual([true, true])
    expect(house.written).toEqual(['One', 'Two'])
    expect(made).toHaveBeenCalledTimes(1)
  })

  it('overwrites nothing that somebody else wrote, until one of the two is chosen', async () => {
    const { house, draft, type, rest } = begun()
    await type('Mine')
    await rest()
    house.byAnother('Theirs')
    await type('Mine again')
    await rest()
    expect(draft.clash.value).toBe('Tobias Kell changed it meanwhile.')
    expect([draft.body.value, await draft.save()]).toEqual([{ name: 'Mine again' }, false])
    expect(house.stand()!.body.name).toBe('Theirs')
    await draft.mine()
    expect([house.stand()!.body.name, draft.clash.value, draft.dirty.value]).toEqual(['Mine again', null, false])
    house.byAnother('Theirs once more')
    await type('Mine for the third time')
    await rest()
    await draft.theirs()
    expect([draft.body.value, draft.clash.value]).toEqual([{ name: 'Theirs once more' }, null])
  })

  it('keeps what is typed when the server cannot be reached, says so, and writes it when tried again', async () => {
    const house = server()
    const { draft, type, rest } = begun(house)
    await type('Survey')
    await rest()
    const keep = house.calls.keep
    house.calls.keep = () => Promise.reject(new TypeError('Failed to fetch'))
    await type('Survey booked')
    await rest()
    expect(draft.wrong.value).toBeTruthy()
    expect([draft.dirty.value, draft.saving.value, draft.body.value]).toEqual([true, false, { name: 'Survey booked' }])
    house.calls.keep = keep
    expect(await draft.save()).toBe(true)
    expect([draft.wrong.value, house.stand()!.body.name]).toEqual([null, 'Survey booked'])
  })
})

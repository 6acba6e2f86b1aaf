// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'

/** A stream as the browser gives one: what the server says is said by hand. */
class Stream {
  static CLOSED = 2
  static all: Stream[] = []
  readyState = 1
  onopen = () => {}
  onmessage: (message: { data: string }) => void = () => {}
  onerror = () => {}
  constructor() {
    Stream.all.push(this)
  }
  close() {
    this.readyState = Stream.CLOSED
  }
  static open = () => Stream.all.filter((one) => one.readyState !== Stream.CLOSED)
}

describe('live news', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.resetModules()
    Stream.all = []
    vi.stubGlobal('EventSource', Stream)
    vi.stubGlobal(
      'BroadcastChannel',
      class {
        postMessage = () => {}
        onmessage = null
      },
    )
    vi.stubGlobal('navigator', {})
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })

  it('come by one stream for all who listen, which ends with the last of them', async () => {
    const { useLive } = await import('./live')
    const heard: unknown[] = []
    const [one, other] = [effectScope(), effectScope()]
    one.run(() => useLive((news) => heard.push(['one', news])))
    other.run(() => useLive((news) => heard.push(['other', news])))
    expect(Stream.open()).toHaveLength(1)
    Stream.all[0]!.onmessage({ data: '{"records":[7],"tasks":[]}' })
    expect(heard).toEqual([
      ['one', { records: [7], tasks: [] }],
      ['other', { records: [7], tasks: [] }],
    ])
    one.stop()
    expect(Stream.open()).toHaveLength(1)
    other.stop()
    expect(Stream.open()).toHaveLength(0)
  })

  it('say that all has to be looked at again when the stream stands anew', async () => {
    const { useLive } = await import('./live')
    const heard: unknown[] = []
    const { connected } = effectScope().run(() => useLive((news) => heard.push(news)))!
    const [stream] = Stream.all
    stream!.onerror()
    expect(connected.value).toBe(false)
    stream!.onopen()
    expect([connected.value, heard]).toEqual([true, [null]])
  })

  it('are asked for again where the browser gives up, as long as anybody listens', async () => {
    const { useLive } = await import('./live')
    const scope = effectScope()
    scope.run(() => useLive(() => {}))
    const refuse = () => {
      Stream.all.at(-1)!.readyState = Stream.CLOSED
      Stream.all.at(-1)!.onerror()
    }
    refuse()
    vi.advanceTimersByTime(3000)
    expect(Stream.all).toHaveLength(2)
    refuse()
    scope.stop()
    vi.advanceTimersByTime(3000)
    expect(Stream.all).toHaveLength(2)
  })
})

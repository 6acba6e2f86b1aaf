import { tryOnScopeDispose } from '@vueuse/core'
import { readonly, ref } from 'vue'
import { whenUncertain } from '@/api/client'
import { newsOf, type News } from '@/api/news'

export type { News }
type Word = { news: News } | { connected: boolean }

const RETRY_MILLISECONDS = 3000
const NAME = 'yenvo-live'
const listeners = new Set<(news: News) => void>()
const connected = ref(true)
const channel = new BroadcastChannel(NAME)
let source: EventSource | null = null
let stepDown: (() => void) | null = null
let listening = false

function hear(word: Word) {
  if ('connected' in word) connected.value = word.connected
  else listeners.forEach((listener) => listener(word.news))
}

function pass(word: Word) {
  hear(word)
  channel.postMessage(word)
}

function open() {
  source = new EventSource('/api/live')
  source.onopen = () => {
    pass({ connected: true })
    pass({ news: null })
  }
  source.onmessage = (message) => pass({ news: newsOf(message.data as string) })
  source.onerror = () => {
    pass({ connected: false })
    // A refused stream is not tried again by the browser itself.
    if (source?.readyState === EventSource.CLOSED) setTimeout(() => source && open(), RETRY_MILLISECONDS)
  }
}

function close() {
  source?.close()
  source = null
  stepDown?.()
  stepDown = null
}

/**
 * A browser keeps six connections to a server, and a stream takes one for good: of all open pages only one holds it,
 * and tells the others. When that page goes, the lock passes on. Browsers give locks to secure pages only; elsewhere
 * each page has a stream of its own.
 */
function begin() {
  if (!navigator.locks) return open()
  void navigator.locks.request(NAME, () => {
    if (!listening) return
    open()
    return new Promise<void>((done) => (stepDown = done))
  })
}

channel.onmessage = (message) => hear(message.data as Word)
// A page that the browser keeps for going back to would keep its stream, too.
window.addEventListener('pagehide', close)
window.addEventListener('pageshow', (event) => {
  if (!event.persisted || !listening) return
  hear({ news: null })
  begin()
})

// What may have been carried out is on screen before anybody does it twice.
whenUncertain(() => pass({ news: null }))

/** Calls back whenever something changed, until the component goes. */
export function useLive(listener: (news: News) => void) {
  listeners.add(listener)
  if (!listening) {
    listening = true
    begin()
  }
  tryOnScopeDispose(() => {
    listeners.delete(listener)
    if (listeners.size > 0) return
    listening = false
    close()
  })
  return { connected: readonly(connected) }
}

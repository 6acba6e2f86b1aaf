import { tryOnScopeDispose } from '@vueuse/core'
import { readonly, ref } from 'vue'

/** Ids of what changed; null when anything may have (after a connection was lost). */
export type News = { records: number[]; tasks: number[] } | null

const listeners = new Set<(news: News) => void>()
const connected = ref(true)
let source: EventSource | null = null

function connect() {
  source = new EventSource('/api/live')
  source.onopen = () => {
    connected.value = true
    listeners.forEach((listener) => listener(null))
  }
  source.onmessage = (message) => {
    const news = JSON.parse(message.data as string) as News
    listeners.forEach((listener) => listener(news))
  }
  source.onerror = () => {
    connected.value = false
    // A refused stream is not tried again by the browser itself.
    if (source?.readyState === EventSource.CLOSED) setTimeout(() => listeners.size && connect(), 3000)
  }
}

/** Calls back whenever something changed, until the component goes. */
export function useLive(listener: (news: News) => void) {
  listeners.add(listener)
  if (!source || source.readyState === EventSource.CLOSED) connect()
  tryOnScopeDispose(() => {
    listeners.delete(listener)
    if (listeners.size === 0) {
      source?.close()
      source = null
    }
  })
  return { connected: readonly(connected) }
}

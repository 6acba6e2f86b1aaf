import { useEventListener } from '@vueuse/core'

/** Keys and what they do; a key is written as the browser names it, such as "j", "?" or "ArrowDown". */
export type Keys = Record<string, (event: KeyboardEvent) => void>

const TYPING =
  'input, textarea, select, [contenteditable="true"], [role="combobox"], [role="listbox"], [role="dialog"] *'

/** Single keys, while the component is there; never while somebody types or a dialog is open. */
export function useKeys(keys: Keys) {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    const target = event.target as HTMLElement
    if (target.matches(TYPING) || document.querySelector('[role="dialog"]')) return
    const act = keys[event.key]
    if (!act) return
    event.preventDefault()
    act(event)
  })
}

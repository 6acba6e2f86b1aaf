import { defineComponent, h, nextTick, onMounted, ref, shallowRef, type Component } from 'vue'
import { useNotices } from './useNotices'

/**
 * A dialog that is loaded when the page has nothing else to do, or when it is opened, whichever comes first; so that a
 * page comes without what nobody asked for yet. It takes the same props, events and slots; `open` says when. The
 * dialog is there closed first, and then sees itself opened like any other.
 */
export function whenOpened<T extends Component>(load: () => Promise<{ default: T }>): T {
  const wrapper = defineComponent({
    inheritAttrs: false,
    setup(_, { attrs, slots }) {
      const { say } = useNotices()
      const loaded = shallowRef<Component | null>(null)
      const ready = ref(false)
      let asked = false
      async function fetchIt() {
        if (asked) return
        asked = true
        try {
          loaded.value = (await load()).default
          await nextTick()
          ready.value = true
        } catch {
          asked = false
          if (!attrs.open) return
          say('This could not be loaded. Nothing was lost; try again in a moment.', 'bad')
          ;(attrs.onClose as (() => void) | undefined)?.()
        }
      }
      onMounted(() => (window.requestIdleCallback ?? setTimeout)(() => void fetchIt()))
      return () => {
        const open = Boolean(attrs.open)
        if (open) void fetchIt()
        return loaded.value && h(loaded.value, { ...attrs, open: open && ready.value }, slots)
      }
    },
  })
  return wrapper as Component as T
}

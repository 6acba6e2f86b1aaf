import { computed, nextTick, ref, toRaw, watch, type Ref } from 'vue'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(toRaw(value))) as T
const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/**
 * What somebody types over what is kept: it follows `kept` as long as nothing was typed, and is not written over by
 * news while there is. `take` makes it what is kept, as after it was saved.
 * @param kept plain values, as in JSON
 * @param followed called whenever it became what is kept
 */
export function useTyped<T>(kept: () => T, followed: () => void = () => {}) {
  const typed = ref(copy(kept())) as Ref<T>
  watch(kept, (fresh, old) => {
    if (same(fresh, old) || !same(typed.value, old)) return
    typed.value = copy(fresh)
    followed()
  })
  const changed = computed(() => !same(typed.value, kept()))
  async function take() {
    // What is kept comes from above, with the next drawing of the page.
    await nextTick()
    typed.value = copy(kept())
    followed()
  }
  return { typed, changed, take }
}

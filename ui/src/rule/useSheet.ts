import { useEventListener, useLocalStorage } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import {
  actionsOf,
  carried,
  moved,
  typedPlace,
  withActions,
  type Action,
  type Branch,
  type Place,
  type Rule,
} from './model'

type Clip = { what: 'branch'; branch: Branch } | { what: 'action'; action: Action }
const MOST_STEPS = 200
// What is typed into one place in one go is undone in one go.
const ONE_GO = 1500

/** What can be done with rows and actions of the rule on screen: move, copy, paste between rules, undo, redo. */
export function useSheet(rule: Ref<Rule | null>, place: Ref<Place>, fixed: Ref<boolean>) {
  const clip = useLocalStorage<Clip | null>('yenvo.clip', null, {
    serializer: { read: (text) => JSON.parse(text) as Clip, write: (value) => JSON.stringify(value) },
  })
  const past = ref<string[]>([])
  const future = ref<string[]>([])
  let last = { at: 0, place: '' as string | null }

  /** Every change of the rule goes through here, so that it can be undone. */
  function change(next: Rule) {
    if (fixed.value || !rule.value) return
    const before = JSON.stringify(rule.value)
    if (before === JSON.stringify(next)) return
    const now = { at: performance.now(), place: typedPlace(rule.value, next) }
    const same = now.place !== null && now.place === last.place && now.at - last.at < ONE_GO
    if (!same || !past.value.length) past.value = [...past.value.slice(-MOST_STEPS), before]
    last = now
    future.value = []
    rule.value = next
  }
  function step(from: Ref<string[]>, to: Ref<string[]>) {
    const text = from.value.at(-1)
    if (!text || !rule.value) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, JSON.stringify(rule.value)]
    last = { at: 0, place: null }
    rule.value = JSON.parse(text) as Rule
    place.value = { what: 'try' }
  }
  const undo = () => step(past, future)
  const redo = () => step(future, past)
  const forget = () => {
    past.value = []
    future.value = []
  }

  /** What is chosen: a branch or an action, nothing else. */
  const chosen = computed(() => (['branch', 'action'].includes(place.value.what) ? place.value : null))

  function moveBy(by: number) {
    const at = place.value
    if (!rule.value) return
    if (at.what === 'action') {
      const actions = actionsOf(rule.value, at.row)
      change(withActions(rule.value, at.row, moved(actions, at.index, by)))
      place.value = { ...at, index: Math.min(Math.max(at.index + by, 0), actions.length - 1) }
    } else if (at.what === 'branch') {
      const branches = moved(rule.value.branches, at.row, by)
      change({ ...rule.value, branches })
      place.value = { what: 'branch', row: Math.min(Math.max(at.row + by, 0), branches.length - 1) }
    }
  }

  /** Puts a row before another; the number of branches stands for the end. */
  function carryBranch(from: number, to: number) {
    if (!rule.value || from === to) return
    change({ ...rule.value, branches: carried(rule.value.branches, from, to) })
    place.value = { what: 'branch', row: to > from ? to - 1 : to }
  }
  /** Puts an action before another, in its own row or in another one. */
  function carryAction(from: { row: number; index: number }, to: { row: number; index: number }) {
    if (!rule.value) return
    if (from.row === to.row) {
      change(withActions(rule.value, from.row, carried(actionsOf(rule.value, from.row), from.index, to.index)))
      place.value = { what: 'action', row: to.row, index: to.index > from.index ? to.index - 1 : to.index }
      return
    }
    const action = actionsOf(rule.value, from.row)[from.index]
    if (!action) return
    const left = withActions(
      rule.value,
      from.row,
      actionsOf(rule.value, from.row).filter((_, index) => index !== from.index),
    )
    const target = actionsOf(left, to.row)
    change(withActions(left, to.row, [...target.slice(0, to.index), action, ...target.slice(to.index)]))
    place.value = { what: 'action', ...to }
  }

  function copy() {
    const at = place.value
    if (!rule.value) return false
    if (at.what === 'branch') {
      const branch = rule.value.branches[at.row]
      if (branch) clip.value = { what: 'branch', branch }
      return !!branch
    }
    if (at.what !== 'action') return false
    const action = actionsOf(rule.value, at.row)[at.index]
    if (action) clip.value = { what: 'action', action }
    return !!action
  }
  /** Puts what was copied, here or in another rule, behind what is chosen. */
  function paste() {
    const at = place.value
    if (!rule.value || !clip.value) return false
    if (clip.value.what === 'branch') {
      const after = 'row' in at ? Math.min(at.row, rule.value.branches.length - 1) : rule.value.branches.length - 1
      const branches = [...rule.value.branches]
      branches.splice(after + 1, 0, JSON.parse(JSON.stringify(clip.value.branch)) as Branch)
      change({ ...rule.value, branches })
      place.value = { what: 'branch', row: after + 1 }
      return true
    }
    const row = 'row' in at ? at.row : 0
    const actions = [...actionsOf(rule.value, row)]
    const index = at.what === 'action' ? at.index + 1 : actions.length
    actions.splice(index, 0, JSON.parse(JSON.stringify(clip.value.action)) as Action)
    change(withActions(rule.value, row, actions))
    place.value = { what: 'action', row, index }
    return true
  }

  function remove() {
    const at = place.value
    if (!rule.value) return
    if (at.what === 'branch')
      change({ ...rule.value, branches: rule.value.branches.filter((_, index) => index !== at.row) })
    else if (at.what === 'action') {
      const actions = actionsOf(rule.value, at.row).filter((_, index) => index !== at.index)
      if (!actions.length && at.row === rule.value.branches.length) {
        const { otherwise: _gone, ...rest } = rule.value
        change(rest)
      } else change(withActions(rule.value, at.row, actions))
    } else return
    place.value = { what: 'try' }
  }

  // Keys with Control or Alt work everywhere on the sheet but in what is being typed, where they mean the text.
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (fixed.value || document.querySelector('[role="dialog"]')) return
    const typing = (event.target as HTMLElement).matches('input, textarea, select')
    const key = event.key.toLowerCase()
    const command = event.ctrlKey || event.metaKey
    let done = false
    if (command && key === 'z' && !typing) {
      if (event.shiftKey) redo()
      else undo()
      done = true
    } else if (command && key === 'y' && !typing) {
      redo()
      done = true
    } else if (command && key === 'c' && !typing && !String(window.getSelection() ?? '')) done = copy()
    else if (command && key === 'v' && !typing) done = paste()
    else if (event.altKey && ['arrowup', 'arrowdown'].includes(key) && chosen.value) {
      moveBy(key === 'arrowup' ? -1 : 1)
      done = true
    }
    if (done) event.preventDefault()
  })

  return {
    change,
    undo,
    redo,
    forget,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    moveBy,
    carryBranch,
    carryAction,
    copy,
    paste,
    clip,
    remove,
  }
}

import { nextTick, ref } from 'vue'
import { expect, test, vi } from 'vitest'
import { useTyped } from './useTyped'

test('follows what is kept until somebody types', async () => {
  const kept = ref({ name: 'Yard' })
  const followed = vi.fn()
  const { typed, changed } = useTyped(() => kept.value, followed)
  kept.value = { name: 'Loft' }
  await nextTick()
  expect([typed.value.name, changed.value, followed.mock.calls.length]).toEqual(['Loft', false, 1])
  typed.value.name = 'Canvas loft'
  expect(changed.value).toBe(true)
  kept.value = { name: 'Shed' }
  await nextTick()
  expect([typed.value.name, changed.value, followed.mock.calls.length]).toEqual(['Canvas loft', true, 1])
})

test('what was typed never gets into what is kept, and is what is kept once it was saved', async () => {
  const kept = ref([{ label: 'New' }])
  const { typed, changed, take } = useTyped(() => kept.value)
  typed.value[0]!.label = 'Asked'
  expect(kept.value[0]!.label).toBe('New')
  kept.value = [{ label: 'Asked' }, { label: 'Done' }]
  await take()
  expect([typed.value.length, changed.value]).toEqual([2, false])
})

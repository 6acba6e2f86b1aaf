import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { problemsAt } from './formAsks'
import { readSample, type DoorMap, type Message } from './doorMap'
import { useChange } from './useChange'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/** The sheet of one door: its table as it is typed, and what the sample would come to, asked a moment after a key. */
export function useDoorSheet(key: string) {
  const change = useChange()
  const { say } = useNotices()
  const sheet = shallowRef<Schemas['DoorSheet'] | null>(null)
  const name = ref('')
  const map = ref<DoorMap>({ how: 'make', rows: [], types: [] })
  const perMinute = ref('')
  const sample = ref('')
  const secret = ref('')
  const lost = ref('')
  const tried = shallowRef<Schemas['DoorTry'] | null>(null)
  const read = computed(() => (sample.value.trim() ? readSample(sample.value) : {}))

  function take(fresh: Schemas['DoorSheet']) {
    sheet.value = fresh
    name.value = fresh.name
    map.value = copy({ ...fresh.map, rows: fresh.map.rows ?? [], types: fresh.map.types ?? [] })
    perMinute.value = fresh.per_minute?.toString() ?? ''
    sample.value = fresh.sample ? JSON.stringify(fresh.sample, null, 2) : ''
  }
  const load = async () => take(await answerOf(api.GET('/api/doors/sheet', { params: { query: { key } } })))
  load().catch((problem: Error) => (lost.value = problem.message))

  const asked = refDebounced(
    computed(() => JSON.stringify([map.value, read.value.message ?? {}])),
    300,
  )
  watch(asked, async (text) => {
    if (!sheet.value) return
    const [plain, message] = JSON.parse(text) as [DoorMap, Message]
    const answer = await answerOf(api.POST('/api/doors/try', { body: { key, map: plain, message } })).catch(() => null)
    if (answer) tried.value = answer
  })

  const limit = () => (perMinute.value.trim() ? Number(perMinute.value) : null)
  const door = (open: boolean) => ({
    name: name.value,
    map: map.value,
    per_minute: Number.isNaN(limit()) ? 0 : limit(),
    open,
    ...(read.value.message ? { sample: read.value.message } : {}),
  })
  async function save(open: boolean, said: string) {
    const body = { key, seen: sheet.value!.seen, door: door(open) }
    const done = await change.send(async () => take(await answerOf(api.PUT('/api/doors', { body }))))
    if (done) say(said)
  }
  async function renew() {
    const done = await change.send(async () => {
      secret.value = (await answerOf(api.POST('/api/doors/secret', { body: { key } }))).secret
    })
    if (done) say('There is another secret; the one before opens nothing any more.')
  }
  const retire = () => change.send(() => answerOf(api.DELETE('/api/doors', { body: { key } })))
  const wrongAt = computed(() => problemsAt(tried.value?.problems ?? sheet.value?.problems ?? []))
  return { ...change, sheet, name, map, perMinute, sample, read, secret, lost, tried, wrongAt, save, renew, retire }
}

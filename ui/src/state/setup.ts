import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'

export type Kind = Schemas['Kind']
export type Field = Schemas['Field']
export type Setup = Schemas['Setup']

const setup = ref<Setup | null>(null)
const ahead = ref(0)

/** Fetches what records can hold and who is here. */
export async function loadSetup() {
  const fresh = await answerOf(api.GET('/api/setup'))
  ahead.value = Date.parse(fresh.now) - Date.now()
  setup.value = fresh
}

/** Every kind that a rule can be about or lead to: those of records, tasks, and "any record". */
export const everyKind = (all: Setup): Kind[] => [...all.kinds, ...all.subjects]

/** What records can hold, who is here, what rules are made of. Only below a page that has loaded it. */
export function useSetup() {
  const loaded = computed(() => setup.value!)
  const kindOf = (key: string): Kind | undefined => loaded.value.kinds.find((kind) => kind.key === key)
  const subjectOf = (key: string): Kind | undefined => everyKind(loaded.value).find((kind) => kind.key === key)
  const nameOf = (key: string | null | undefined): string =>
    key ? (loaded.value.people.find((person) => person.key === key)?.name ?? key) : 'Yenvo'
  const queueName = (key: string | null | undefined): string =>
    loaded.value.queues.find((queue) => queue.key === key)?.name ?? key ?? ''
  return {
    setup: loaded,
    ready: computed(() => setup.value !== null),
    kindOf,
    subjectOf,
    nameOf,
    queueName,
    /** People who are still here. */
    people: computed(() => loaded.value.people.filter((person) => person.active && !person.program)),
    /** The moment by the clock of the server. */
    now: () => new Date(Date.now() + ahead.value),
    /** The zone of the house, by which days are counted. */
    zone: computed(() => setup.value?.zone ?? 'UTC'),
    /** The zone in which whoever is signed in reads moments. */
    shownZone: computed(() => setup.value?.shown_zone ?? 'UTC'),
  }
}

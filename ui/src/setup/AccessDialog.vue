<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import { useSetup, type Kind } from '@/state/setup'
import { LEVEL_WORDS, LEVELS, type Level } from './types'
import { useChange } from './useChange'

/** Who sees, changes and takes away the records of one kind, with what each person would see then. */
const props = defineProps<{ open: boolean; kind: Kind }>()
const emit = defineEmits<{ close: [] }>()
const { nameOf } = useSetup()
const { wrong, busy, look, resting, send } = useChange()
const { say } = useNotices()

const VERBS = [
  { key: 'seen_by', words: 'Seen by' },
  { key: 'changed_by', words: 'Changed by' },
  { key: 'taken_away_by', words: 'Taken away by' },
] as const
const levels = ref<Record<(typeof VERBS)[number]['key'], Level>>({
  seen_by: 'everyone',
  changed_by: 'everyone',
  taken_away_by: 'owner',
})
const kept = ref<string[]>([])
const fields = computed(() => props.kind.fields.filter((field) => !field.built_in && field.key !== 'about'))
watch(
  () => props.open,
  (open) => {
    if (!open) return
    const { seen_by, changed_by, taken_away_by } = props.kind
    levels.value = { seen_by, changed_by, taken_away_by }
    kept.value = fields.value.filter((field) => field.kept).map((field) => field.key)
    wrong.value = {}
    look()
  },
  { immediate: true },
)
const place = (level: Level) => LEVELS.indexOf(level)
/** Nobody changes or takes away what they do not see. */
const beyond = (verb: string, level: Level) => verb !== 'seen_by' && place(level) < place(levels.value.seen_by)
watch(
  () => levels.value.seen_by,
  (seen) => {
    for (const verb of ['changed_by', 'taken_away_by'] as const)
      if (place(levels.value[verb]) < place(seen)) levels.value[verb] = seen
  },
)
const body = computed(() => ({ kind: props.kind.key, access: { ...levels.value, kept: kept.value } }))

const found = ref<Schemas['AccessPreview'] | null>(null)
let asked = 0
watch(
  [body, () => props.open],
  async () => {
    if (!props.open) return
    const turn = ++asked
    const answer = await answerOf(api.POST('/api/setup/access/preview', { body: body.value })).catch(() => null)
    if (turn === asked) found.value = answer
  },
  { immediate: true },
)
const share = (sees: number) => (found.value?.all ? (100 * sees) / found.value.all : 0)

async function save() {
  const headers = resting.value
  const call = () => answerOf(api.PUT('/api/setup/access', { headers, body: body.value }))
  if (!(await send(call))) return
  say(`It holds from now on who sees ${props.kind.plural.toLowerCase()}.`)
  emit('close')
}
</script>

<template>
  <DialogBox :open="open" :title="`Access to ${kind.plural.toLowerCase()}`" wide @close="emit('close')">
    <form @submit.prevent="save">
      <div class="grid gap-x-8 sm:grid-cols-[1fr_250px]">
        <div>
          <fieldset v-for="verb in VERBS" :key="verb.key" class="mb-4">
            <legend class="lab mb-1">{{ verb.words }}</legend>
            <label
              v-for="level in LEVELS"
              :key="level"
              class="flex min-h-[26px] items-center gap-2"
              :class="beyond(verb.key, level) ? 'text-muted' : ''"
              ><input
                v-model="levels[verb.key]"
                type="radio"
                :name="verb.key"
                :value="level"
                :disabled="beyond(verb.key, level)"
              />{{ LEVEL_WORDS[level] }}</label
            >
            <p v-if="wrong[verb.key]" class="mt-1 text-sm text-red" role="alert">{{ wrong[verb.key] }}</p>
          </fieldset>
        </div>
        <section aria-live="polite" class="mb-4">
          <h3 class="lab mb-1">What each would see</h3>
          <template v-if="found">
            <ul>
              <li
                v-for="one in found.persons"
                :key="one.person"
                class="mb-[2px] flex justify-between gap-2 px-2 py-[2px]"
                :style="{
                  background: `linear-gradient(to right, var(--color-chosen) ${share(one.sees)}%, var(--color-band) 0)`,
                }"
              >
                <span class="min-w-0 break-words">{{ nameOf(one.person) }}</span><span
                  class="font-mono whitespace-nowrap"
                  >{{ one.sees }} of {{ found.all }}</span
                >
              </li>
            </ul>
            <p v-if="found.tasks" class="mt-2 text-sm text-amber">
              {{ counted(found.tasks, 'open task') }} would be out of sight of whoever has
              {{ found.tasks === 1 ? 'it' : 'them' }}. You find them on the page Team.
            </p>
          </template>
        </section>
      </div>
      <fieldset v-if="fields.length" class="mb-4">
        <legend class="lab mb-1">Fields kept for leads and administrators</legend>
        <div class="flex flex-wrap gap-x-5 gap-y-1">
          <label
            v-for="field in fields"
            :key="field.key"
            class="flex min-h-[26px] items-center gap-2"
            :class="field.required ? 'text-muted' : ''"
            ><input v-model="kept" type="checkbox" :value="field.key" :disabled="field.required" />{{ field.label
            }}<span v-if="field.required" class="text-sm">(required)</span></label
          >
        </div>
        <p v-if="wrong.kept" class="mt-1 text-sm text-red" role="alert">{{ wrong.kept }}</p>
        <p v-else-if="kept.length" class="mt-1 text-sm text-muted">
          Rules still look at them. Texts that rules write say that they are kept, and not what they hold.
        </p>
      </fieldset>
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <div class="flex flex-wrap gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">Save</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { sentenceCase } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import SelectBox from '@/parts/SelectBox.vue'

/** Ready rules, each shown as the table it is; one press makes a draft whose blanks are marked. */
const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()

const all = ref<{ groups: string[]; patterns: Schemas['Pattern'][] } | null>(null)
const wrong = ref('')
const text = ref('')
const family = ref('')
const chosen = ref('')
watch(
  () => props.open,
  async (open) => {
    if (!open || all.value) return
    try {
      all.value = await answerOf(api.GET('/api/patterns', {}))
    } catch (problem) {
      wrong.value = sentenceOf(problem)
    }
  },
  { immediate: true },
)
const families = [
  { value: '', words: 'Any kind of record' },
  { value: 'contact', words: 'Contacts' },
  { value: 'deal', words: 'Deals' },
  { value: 'ticket', words: 'Tickets' },
  { value: 'entry', words: 'Lists' },
]
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (all.value?.patterns ?? []).filter((one) => {
    const all = [
      one.name,
      one.need,
      one.kind,
      one.trigger,
      one.group,
      ...one.rows.flatMap((row) => [...row.if, ...row.do]),
    ]
    const whole = all.join(' ').toLowerCase()
    return (!family.value || one.family === family.value) && words.every((word) => whole.includes(word))
  })
})
const groups = computed(() =>
  (all.value?.groups ?? [])
    .map((name) => ({ name, patterns: found.value.filter((one) => one.group === name) }))
    .filter((group) => group.patterns.length),
)
const shown = computed(() => found.value.find((one) => one.key === chosen.value) ?? found.value[0])

async function use() {
  try {
    const rule = await answerOf(api.POST('/api/patterns', { body: { key: shown.value!.key } }))
    emit('close')
    emit('made', rule.id)
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" title="Begin from a ready rule" wide @close="emit('close')">
    <div class="mb-3 flex flex-wrap gap-2">
      <input
        v-model="text"
        type="search"
        class="input !w-64"
        placeholder="What it is for, such as hand-over"
        aria-label="Search the ready rules"
      />
      <SelectBox v-model="family" :options="families" label="Kind of record" />
      <span class="self-center text-muted" role="status">{{ found.length }} of {{ all?.patterns.length ?? 0 }}</span>
    </div>
    <p v-if="wrong" class="mb-2 text-red" role="alert">{{ wrong }}</p>
    <div class="grid gap-4 sm:grid-cols-[260px_1fr]">
      <div class="max-h-[52vh] overflow-y-auto border border-line">
        <section v-for="group in groups" :key="group.name">
          <h3 class="sticky top-0 border-b border-line bg-band-2 px-2 py-1">{{ sentenceCase(group.name) }}</h3>
          <ul>
            <li v-for="one in group.patterns" :key="one.key">
              <button
                type="button"
                class="w-full border-b border-line px-2 py-[6px] text-left"
                :class="shown?.key === one.key ? 'bg-chosen font-semibold' : 'hover:bg-band'"
                @click="chosen = one.key"
                @focus="chosen = one.key"
              >
                {{ one.name }}
              </button>
            </li>
          </ul>
        </section>
        <p v-if="all && !found.length" class="p-3 text-muted">None has these words. Try fewer.</p>
      </div>
      <div v-if="shown" class="min-w-0">
        <h3 class="text-lg">{{ shown.name }}</h3>
        <p class="mb-2">{{ shown.need }}</p>
        <p class="mb-2 text-muted">{{ shown.kind }} · {{ shown.trigger }}</p>
        <table class="mb-3 w-full border-collapse border border-pine text-sm">
          <tbody>
            <tr
              v-for="(row, index) in shown.rows"
              :key="index"
              class="[&>td]:border-b [&>td]:border-line [&>td]:p-2 [&>td]:align-top"
            >
              <td class="w-6 font-mono font-bold">{{ row.if[0] === 'otherwise' ? '○' : index + 1 }}</td>
              <td class="w-[38%] break-words">{{ row.if.join(', ') || 'always' }}</td>
              <td class="border-l-4 border-double border-l-pine">
                <div v-for="(one, place) in row.do" :key="place">{{ one }}</div>
              </td>
            </tr>
          </tbody>
        </table>
        <button type="button" class="btn btn-go" @click="use">Make a draft of it</button>
        <p class="mt-2 text-sm text-muted">What you have to choose yourself is left blank, and the checks name it.</p>
      </div>
    </div>
  </DialogBox>
</template>

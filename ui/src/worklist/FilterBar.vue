<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { sentenceCase } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import TableLink from '@/parts/TableLink.vue'
import { useSetup } from '@/state/setup'
import { useFilters } from './useFilters'

/** What else the shown tasks must be: from a rule or kit, about a kind, of a priority, due, with words. */
const props = defineProps<{ tasks: Schemas['Task'][]; focus?: boolean }>()
onMounted(() => props.focus && document.getElementById('task-words')?.focus())
const { from, kind, priority, due, words, more, clear, query } = useFilters()
const { setup } = useSetup()

// What the loaded tasks come from; the one chosen stays even when no task of it is loaded.
const sources = computed(() => {
  const named = new Map<string, string>()
  props.tasks.forEach((task) => {
    if (task.kit) named.set(`kit:${task.kit.id}`, `Kit ${task.kit.name}`)
    if (task.rule) named.set(`rule:${task.rule.id}`, task.rule.name)
  })
  setup.value.kits.forEach((kit) => named.set(`kit:${kit.id}`, `Kit ${kit.name}`))
  if (from.value && !named.has(from.value)) named.set(from.value, 'the chosen rule')
  return [{ value: '', words: 'All rules and kits' }, ...[...named].map(([value, text]) => ({ value, words: text }))]
})
const kinds = computed(() => [
  { value: '', words: 'About anything' },
  ...setup.value.kinds.map((one) => ({ value: one.key, words: one.plural })),
])
const priorities = computed(() => [
  { value: '', words: 'Any priority' },
  ...setup.value.vocabulary.priorities.map((one) => ({ value: one, words: sentenceCase(one) })),
])
const dues = [
  { value: '', words: 'Due at any time' },
  { value: 'late', words: 'Late' },
  { value: 'today', words: 'Due today' },
  { value: 'week', words: 'Due this week' },
  { value: 'later', words: 'Due later' },
  { value: 'none', words: 'Without a date' },
  { value: 'starts', words: 'Starts later' },
]
// What is typed stays while the list is drawn anew.
const typed = ref(words.value)
const search = useDebounceFn(() => (words.value = typed.value), 300)
watch(words, (fresh) => document.activeElement?.id !== 'task-words' && (typed.value = fresh))
</script>

<template>
  <div class="flex flex-wrap items-center gap-2 border-b border-line bg-paper px-3 py-2 sm:px-5">
    <input
      id="task-words"
      v-model="typed"
      class="input !w-56"
      type="search"
      placeholder="Words in title or text"
      aria-label="Words in title or text"
      maxlength="200"
      @input="search"
    />
    <SelectBox v-model="from" :options="sources" label="Rule or kit" />
    <SelectBox v-model="kind" :options="kinds" label="Kind of record" />
    <SelectBox v-model="priority" :options="priorities" label="Priority" />
    <SelectBox v-model="due" :options="dues" label="Due" />
    <button v-if="more" type="button" class="link" @click="clear">Show all again</button>
    <TableLink of="worklist" :query="query" />
  </div>
</template>

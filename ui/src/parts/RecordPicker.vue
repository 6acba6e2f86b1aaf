<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { ref } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'

/** Finds a record by the words of its title. `kind` limits it to one kind or one family of kinds. */
const props = defineProps<{ label: string; kind?: string | null; shown?: string; blank?: string; invalid?: boolean }>()
const value = defineModel<number | null>({ required: true })
const emit = defineEmits<{ chosen: [record: Schemas['Linked'] | null] }>()

const found = ref<Schemas['Linked'][]>([])
const note = ref('Type a few letters of the title.')
const titles = new Map<number, string>()

const look = useDebounceFn(async (text: string) => {
  if (!text.trim()) {
    found.value = []
    note.value = 'Type a few letters of the title.'
    return
  }
  try {
    const query = { text, ...(props.kind ? { kind: props.kind } : {}) }
    found.value = (await answerOf(api.GET('/api/find', { params: { query } }))).found
    note.value = found.value.length ? '' : `Nothing begins with “${text}”.`
    found.value.forEach((record) => titles.set(record.id, record.title))
  } catch (problem) {
    note.value = sentenceOf(problem)
  }
}, 150)

function choose(id: number | null) {
  value.value = id
  emit('chosen', found.value.find((record) => record.id === id) ?? null)
}
</script>

<template>
  <Combobox :model-value="value" nullable as="div" class="relative" @update:model-value="choose">
    <ComboboxInput
      class="input"
      :aria-label="label"
      :aria-invalid="invalid || undefined"
      :placeholder="blank ?? 'Find a record'"
      autocomplete="off"
      :display-value="(id) => (id ? (titles.get(id as number) ?? shown ?? `record ${id}`) : '')"
      @change="look(($event.target as HTMLInputElement).value)"
    />
    <ComboboxOptions class="opened max-h-60 w-full min-w-56">
      <li v-if="note" class="px-2 py-1 text-muted">{{ note }}</li>
      <ComboboxOption v-for="record in found" :key="record.id" v-slot="{ active }" :value="record.id" as="template">
        <li class="cursor-pointer px-2 py-[5px]" :class="active ? 'bg-band-2' : ''">
          {{ record.title }} <span class="text-muted">{{ record.kind_label.toLowerCase() }}</span>
        </li>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>

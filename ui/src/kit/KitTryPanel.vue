<script setup lang="ts">
import { ref, watch } from 'vue'
import { useDebounceFn } from '@vueuse/core'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import RecordPicker from '@/parts/RecordPicker.vue'
import DateStrip from '@/rule/DateStrip.vue'
import type { Kind } from '@/state/setup'
import type { Kit } from './model'

/** What the kit would do to one record, with its dates on a strip. Nothing is written. */
const props = defineProps<{ kit: Kit; kitKey: string | null; kind: Kind }>()
const record = defineModel<{ id: number; title: string } | null>({ required: true })
const emit = defineEmits<{ choose: [key: string] }>()
const { day } = useDates()
const found = ref<Schemas['KitTry'] | null>(null)
const wrong = ref('')

const run = useDebounceFn(async () => {
  if (!record.value) return
  try {
    const body = { kit: props.kit, key: props.kitKey, record_id: record.value.id }
    found.value = await answerOf(api.POST('/api/kits/try', { body }))
    wrong.value = ''
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}, 250)
watch([() => JSON.stringify(props.kit), () => record.value?.id], run, { immediate: true })
</script>

<template>
  <RecordPicker
    :model-value="record?.id ?? null"
    :label="`${kind.label} to try it on`"
    :kind="kind.key"
    :shown="record?.title"
    :blank="`Find a ${kind.label.toLowerCase()} to try it on`"
    @chosen="(one) => one && (record = { id: one.id, title: one.title })"
  />
  <p v-if="wrong" class="mt-2 text-red" role="alert">{{ wrong }}</p>
  <template v-else-if="found">
    <p class="my-2 text-muted">
      <template v-if="found.anchor">Counts from {{ found.anchor.label }}, {{ day(found.anchor.on) }}.</template>
      {{ found.missing }} Tasks that come later are dated as if they came today.
    </p>
    <DateStrip :plan="{ tasks: found.tasks, strip: found.strip }" />
    <ul class="mt-2">
      <li v-for="task in found.tasks" :key="task.key" class="border-b border-line py-1">
        <button type="button" class="text-left hover:underline" @click="emit('choose', task.key)">
          <span class="font-mono text-xs text-muted">{{ task.number }}</span>
          <b class="font-semibold">{{ task.title }}</b>
        </button>
        <span v-if="task.past" class="flag ml-1 bg-red-bg text-red">past already</span>
        <span class="block text-sm text-muted"
          >{{ task.comes }} · {{ task.to ?? 'nobody' }} ·
          {{ task.due ? `${day(task.due.on)} ${task.due.at ?? ''}` : 'no date' }}</span
        >
        <span v-if="task.trouble" class="block text-sm text-red">{{ task.trouble }}</span>
        <span
          v-for="note in task.notes.filter((one) => /moved/.test(one))"
          :key="note"
          class="block text-sm text-muted"
          >{{ note }}</span
        >
      </li>
    </ul>
  </template>
  <p v-else class="mt-2 text-muted">
    Choose one to see every task with its date and who would get it. Nothing is written.
  </p>
</template>

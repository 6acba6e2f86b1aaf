<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { counted } from '@/lib/words'
import { useSetup } from '@/state/setup'
import type { Kit } from './model'

/** Versions of a kit, what uses it, and the copies in use, each with how far it is. */
const props = defineProps<{ kept: Schemas['Kit'] | null; fixed: boolean }>()
const emit = defineEmits<{ take: [kit: Kit]; retire: [retired: boolean] }>()
const { moment, day } = useDates()
const { nameOf } = useSetup()
const copies = ref<Schemas['Copy'][] | null>(null)
const wrong = ref('')

watch(
  () => [props.kept?.id, props.kept?.stamp],
  async () => {
    if (!props.kept) return
    try {
      const path = { id: props.kept.id }
      copies.value = (await answerOf(api.GET('/api/kits/{id}/copies', { params: { path } }))).copies
    } catch (problem) {
      wrong.value = sentenceOf(problem)
    }
  },
  { immediate: true },
)
async function show(number: number) {
  try {
    const path = { id: props.kept!.id, number }
    emit('take', (await answerOf(api.GET('/api/kits/{id}/versions/{number}', { params: { path } }))).kit)
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
</script>

<template>
  <p v-if="!kept?.version" class="text-muted">Not published yet. A published version never changes.</p>
  <template v-else>
    <p v-if="wrong" class="text-red" role="alert">{{ wrong }}</p>
    <h3 class="mb-1">Versions</h3>
    <ul class="mb-4">
      <li v-for="one in kept.versions" :key="one.number" class="flex justify-between gap-2 border-b border-line py-1">
        <span
          ><b class="font-semibold">Version {{ one.number }}</b>
          <span class="text-muted">{{ nameOf(one.by) }}, {{ moment(one.at) }}</span>
          <span v-if="one.running" class="block text-muted"
            >{{ counted(one.running, 'copy', 'copies') }} in use</span
          ></span
        >
        <button v-if="!fixed" type="button" class="link" @click="show(one.number)">Take as the draft</button>
      </li>
    </ul>
    <h3 class="mb-1">Used by</h3>
    <ul class="mb-4">
      <li v-for="one in kept.used_by" :key="one.what + one.id" class="border-b border-line py-1">
        <RouterLink :to="`/${one.what}s/${one.id}`">{{ one.name }}</RouterLink>
        <span class="text-muted">{{ one.what }}, {{ one.state }}</span>
      </li>
      <li v-if="!kept.used_by.length" class="text-muted">No rule and no other kit.</li>
    </ul>
    <h3 class="mb-1">In use now</h3>
    <ul class="mb-4">
      <li v-for="copy in copies ?? []" :key="copy.id" class="border-b border-line py-1">
        <RouterLink v-if="copy.record" :to="`/record/${copy.record.id}`">{{ copy.record.title }}</RouterLink>
        <span class="text-muted">
          {{ copy.done }} of {{ copy.all }} done · version {{ copy.version }} · since
          {{ day(copy.begun_at.slice(0, 10)) }}</span
        >
      </li>
      <li v-if="copies && !copies.length" class="text-muted">On no record.</li>
    </ul>
    <button v-if="!fixed" type="button" class="link" @click="emit('retire', kept.state !== 'retired')">
      {{ kept.state === 'retired' ? 'Take it into use again' : 'Take it out of use' }}
    </button>
  </template>
</template>

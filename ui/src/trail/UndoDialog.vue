<script setup lang="ts">
import { ref, shallowRef, watch } from 'vue'
import { answerOf, api, sentenceOf } from '@/api/client'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'

/** Takes back one run, or all runs of a rule since a moment: what goes and what stays is listed before and after. */
const props = defineProps<{ open: boolean; run?: number; rule?: number }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { now } = useSetup()

type Undone = {
  runs: number
  more: boolean
  items: { run: number; words: string; back: boolean; why: string | null }[]
}
const found = shallowRef<Undone | null>(null)
const wrong = ref<string | null>(null)
const finished = ref(false)
const busy = ref(false)
const hours = ref('1')
const spans = [
  { value: '1', words: 'the last hour' },
  { value: '24', words: 'the last day' },
  { value: '168', words: 'the last week' },
  { value: '720', words: 'the last 30 days' },
]
// The moment is fixed when the list is made, so that what is taken back is what was listed.
let since = ''
const body = () => (props.run ? { run: props.run } : { rule: props.rule!, since })

async function look() {
  found.value = null
  wrong.value = null
  finished.value = false
  since = new Date(now().getTime() - Number(hours.value) * 3_600_000).toISOString()
  try {
    found.value = await answerOf(api.POST('/api/undo/preview', { body: body() }))
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  }
}
watch([() => props.open, hours], () => props.open && look())

async function takeBack() {
  busy.value = true
  try {
    found.value = await answerOf(api.POST('/api/undo', { body: body() }))
    finished.value = true
    emit('done')
  } catch (problem) {
    wrong.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <DialogBox :open="open" :title="run ? 'Take this run back' : 'Take runs back'" wide @close="emit('close')">
    <div v-if="!run && !finished" class="mb-3 flex items-center gap-2">
      <span>All runs of</span><SelectBox v-model="hours" :options="spans" label="Since when" />
    </div>
    <p v-if="wrong" class="text-red" role="alert">{{ wrong }}</p>
    <p v-else-if="!found" class="text-muted">Looking at what it did.</p>
    <template v-else>
      <p class="mb-2" role="status">
        {{ finished ? 'Taken back' : 'This takes back' }} {{ counted(found.runs, 'run')
        }}{{ found.more ? ', the newest; there are more' : '' }}.
      </p>
      <div class="grid gap-4 sm:grid-cols-2">
        <section v-for="back in [true, false]" :key="String(back)">
          <h3 class="mb-1">{{ back ? (finished ? 'Went back' : 'Goes back') : finished ? 'Stayed' : 'Stays' }}</h3>
          <ul class="max-h-72 overflow-y-auto" :data-test="back ? 'back' : 'stays'">
            <li
              v-for="(item, index) in found.items.filter((one) => one.back === back)"
              :key="index"
              class="border-b border-line py-1 break-words"
            >
              {{ item.words }}<span v-if="item.why" class="text-muted">: {{ item.why }}</span>
            </li>
          </ul>
          <p v-if="!found.items.some((one) => one.back === back)" class="text-muted">Nothing.</p>
        </section>
      </div>
      <div class="mt-4 flex gap-2">
        <button v-if="!finished" type="button" class="btn btn-go" :disabled="busy || !found.runs" @click="takeBack">
          Take back
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">
          {{ finished ? 'Close' : 'Leave it' }}
        </button>
      </div>
    </template>
  </DialogBox>
</template>

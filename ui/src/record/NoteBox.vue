<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'
import { answerOf, api, ApiError, sentenceOf } from '@/api/client'
import { wayWords } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import PresetPicker from '@/worklist/PresetPicker.vue'

/** Logs an interaction on a record. */
const props = defineProps<{ recordId: number }>()
const emit = defineEmits<{ logged: [] }>()
const way = defineModel<string>('way', { required: true })
const { setup } = useSetup()
const text = ref('')
defineExpose({ begin: (quoted: string) => (text.value = quoted + text.value) })
const box = useTemplateRef<HTMLTextAreaElement>('box')
const putIn = (ready: string) => (text.value = text.value ? `${text.value} ${ready}` : ready)
/** When it was, by the clock of the house; empty for just now. */
const when = ref('')
const earlier = ref(false)
const wrong = ref('')
const busy = ref(false)

async function log() {
  busy.value = true
  wrong.value = ''
  try {
    await answerOf(
      api.POST('/api/records/{id}/interactions', {
        params: { path: { id: props.recordId } },
        body: { way: way.value, text: text.value, ...(when.value ? { at: when.value } : {}) },
      }),
    )
    text.value = ''
    when.value = ''
    earlier.value = false
    emit('logged')
  } catch (problem) {
    wrong.value =
      problem instanceof ApiError
        ? (Object.values(problem.refusal.fields ?? {})[0] ?? problem.message)
        : sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="my-2 border border-line bg-paper p-2 sm:ml-[130px]" @submit.prevent="log">
    <textarea
      id="note-box"
      ref="box"
      v-model="text"
      class="w-full resize-y border-0 bg-paper px-1 py-[2px] outline-offset-2"
      :rows="text ? 3 : 1"
      :placeholder="way === 'note' ? 'Write a note' : `What was said in the ${wayWords(way).toLowerCase()}`"
      aria-label="What was said"
      :aria-invalid="wrong ? true : undefined"
      @keydown.ctrl.enter="log"
    />
    <p v-if="wrong" class="px-1 text-sm text-red" role="alert">{{ wrong }}</p>
    <div class="mt-1 flex flex-wrap items-center gap-2">
      <SelectBox
        v-model="way"
        label="Kind of interaction"
        :options="setup.interactions.map((one) => ({ value: one, words: wayWords(one) }))"
      />
      <button v-if="!earlier" type="button" class="link text-sm" @click="earlier = true">It was earlier</button>
      <label v-else class="flex items-center gap-1"
        ><span class="lab">When it was</span>
        <input v-model="when" type="datetime-local" class="input !w-52" aria-label="When it was"
      /></label>
      <button type="submit" class="btn" :disabled="busy || !text.trim()">
        Log the {{ wayWords(way).toLowerCase() }}
      </button>
      <span class="ml-auto"><PresetPicker :box="box ?? null" @insert="putIn" /></span>
    </div>
  </form>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'

/** Makes a draft from a rule file. */
defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()
const source = ref('')
const problems = ref<Schemas['Problem'][]>([])
const wrong = ref('')

async function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) source.value = await file.text()
}

async function bring() {
  problems.value = []
  wrong.value = ''
  try {
    const rule = await answerOf(api.POST('/api/rule-files', { body: { source: source.value } }))
    source.value = ''
    emit('close')
    emit('made', rule.id)
  } catch (problem) {
    problems.value = problem instanceof ApiError ? (problem.refusal.problems ?? []) : []
    wrong.value = problems.value.length ? '' : sentenceOf(problem)
  }
}
</script>

<template>
  <DialogBox :open="open" title="Bring in a rule file" wide @close="emit('close')">
    <form @submit.prevent="bring">
      <FormRow v-slot="{ id }" label="File (YAML or JSON)"
        ><input :id="id" type="file" accept=".yml,.yaml,.json" @change="choose"
      /></FormRow>
      <FormRow v-slot="{ id }" label="Or its text" :wrong="wrong">
        <textarea :id="id" v-model="source" class="input font-mono !text-[12px]" rows="12" spellcheck="false" />
      </FormRow>
      <ul v-if="problems.length" class="mb-3 text-red" role="alert">
        <li v-for="(problem, index) in problems" :key="index">
          <b v-if="problem.line">Line {{ problem.line }}</b>
          <span v-if="problem.where" class="font-mono text-sm">{{ problem.where }}</span> {{ problem.text }}
        </li>
      </ul>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="!source.trim()">Make a draft of it</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

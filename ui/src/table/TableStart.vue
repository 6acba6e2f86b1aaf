<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { counted } from '@/lib/words'

/** Whether rules shall meet what is made, with what each would do; then the press that writes. */
const props = defineProps<{ id: number; count: number; busy: boolean; again: boolean }>()
const emit = defineEmits<{ start: [rules: boolean] }>()
const rules = ref(false)
const told = ref<{ rows: number; rules: { rule: Schemas['NamedRule']; runs: number; tasks: number }[] } | null>(null)
const trouble = ref('')
async function tryRules() {
  trouble.value = ''
  try {
    told.value = await answerOf(api.GET('/api/imports/{id}/rules', { params: { path: { id: props.id } } }))
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
void tryRules()
const said = computed(() => told.value?.rules ?? [])
</script>

<template>
  <section class="mt-5" aria-label="Bring it in">
    <h3 class="mb-1">Shall rules meet what it makes?</h3>
    <p v-if="trouble" class="text-red" role="alert">{{ trouble }}</p>
    <template v-if="told">
      <p v-if="!said.length" class="mb-2 text-muted">
        No rule would run on the first {{ counted(told.rows, 'row') }} that would be written.
      </p>
      <template v-else>
        <p class="mb-1 text-muted">
          On the first {{ counted(told.rows, 'row') }} that would be written these would run:
        </p>
        <ul class="mb-2">
          <li v-for="one in said" :key="one.rule.id" class="border-b border-line py-1">
            <RouterLink :to="`/rules/${one.rule.id}`">{{ one.rule.name }}</RouterLink>
            on {{ counted(one.runs, 'row') }}{{ one.tasks ? `, making ${counted(one.tasks, 'task')}` : '' }}
          </li>
        </ul>
      </template>
    </template>
    <label class="flex items-start gap-2 py-2"
      ><input v-model="rules" type="radio" class="mt-1" :value="false" /> No: it is written, and nothing else happens.
      Timers count from their dates all the same.</label
    >
    <label class="mb-2 flex items-start gap-2 py-2"
      ><input v-model="rules" type="radio" class="mt-1" :value="true" /> Yes: as if each row were made by hand just
      now.</label
    >
    <button type="button" class="btn btn-go" :aria-busy="busy" @click="emit('start', rules)">
      {{ again ? 'Go on' : `Bring in ${counted(count, 'row')}` }}
    </button>
  </section>
</template>

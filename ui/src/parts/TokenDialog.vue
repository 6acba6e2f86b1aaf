<script setup lang="ts">
import { ref, watch } from 'vue'
import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { addDays } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import { useSetup } from '@/state/setup'

/** A new token, which is shown this once. `make` sends it; what else the form asks stands in the slot. */
const props = defineProps<{ open: boolean; make: (form: Schemas['TokenForm']) => Promise<{ secret: string }> }>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const { attempt } = useNotices()
const SCOPES = [
  { key: 'read', words: 'look at records, tasks, rules and the trail' },
  { key: 'work', words: 'work tasks' },
  { key: 'records', words: 'make and change records' },
  { key: 'rules', words: 'write and publish rules and kits' },
  { key: 'set_up', words: 'change the set-up, but for people' },
]
const form = ref({ name: '', scopes: ['read'], expires_on: '', per_minute: 300 })
const secret = ref('')
const wrong = ref<Record<string, string>>({})
const busy = ref(false)
watch(
  () => props.open,
  (open) => {
    if (!open) return
    form.value = { name: '', scopes: ['read'], expires_on: addDays(setup.value.today, 90), per_minute: 300 }
    secret.value = ''
    wrong.value = {}
  },
)
async function save() {
  if (busy.value) return
  busy.value = true
  wrong.value = {}
  try {
    secret.value = (await props.make(form.value)).secret
  } catch (problem) {
    wrong.value = (problem instanceof ApiError && problem.refusal.fields) || { '': sentenceOf(problem) }
  } finally {
    busy.value = false
  }
}
const copy = () => attempt(() => navigator.clipboard.writeText(secret.value), 'The token is copied.')
</script>

<template>
  <DialogBox :open="open" title="New token" @close="emit('close')">
    <div v-if="secret">
      <p class="mb-2">The token, shown only now. Whoever has it can do what it lets do; keep it as a password.</p>
      <p class="mb-3 border border-pine bg-band px-3 py-2 font-mono text-sm break-all select-all" data-test="token">
        {{ secret }}
      </p>
      <p class="mb-4 text-muted">
        Programs send it as <code class="font-mono text-sm">Authorization: Bearer</code> and the token. What can be
        called stands in <a href="/openapi.yaml" target="_blank" rel="noreferrer">the description</a>.
      </p>
      <div class="flex gap-3">
        <button type="button" class="btn btn-go" @click="copy">Copy the token</button>
        <button type="button" class="btn" @click="emit('close')">I have it</button>
      </div>
    </div>
    <form v-else @submit.prevent="save">
      <slot :wrong="wrong" />
      <FormRow v-slot="{ id, describedby }" label="What it is for" :wrong="wrong.name"
        ><input :id="id" v-model="form.name" class="input" maxlength="120" required :aria-describedby="describedby"
      /></FormRow>
      <fieldset class="mb-3">
        <legend class="lab mb-1">What it lets do</legend>
        <label v-for="one in SCOPES" :key="one.key" class="flex min-h-6 items-center gap-2 py-[3px]"
          ><input v-model="form.scopes" type="checkbox" :value="one.key" />{{ one.words }}</label
        >
        <p v-if="wrong.scopes" class="text-sm text-red" role="alert">{{ wrong.scopes }}</p>
      </fieldset>
      <div class="grid grid-cols-2 gap-x-4">
        <FormRow v-slot="{ id, describedby }" label="Last day" :wrong="wrong.expires_on"
          ><input :id="id" v-model="form.expires_on" type="date" class="input" required :aria-describedby="describedby"
        /></FormRow>
        <FormRow v-slot="{ id, describedby }" label="Calls a minute, at most" :wrong="wrong.per_minute"
          ><input
            :id="id"
            v-model.number="form.per_minute"
            type="number"
            min="1"
            max="6000"
            class="input"
            :aria-describedby="describedby"
        /></FormRow>
      </div>
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <button type="submit" class="btn btn-go" :aria-busy="busy">Make the token</button>
      <button type="button" class="btn btn-quiet ml-2" @click="emit('close')">Not now</button>
    </form>
  </DialogBox>
</template>

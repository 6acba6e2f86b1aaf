<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TokenDialog from '@/parts/TokenDialog.vue'
import TokenList from '@/parts/TokenList.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { loadSetup, useSetup } from '@/state/setup'

/** All tokens of the house, and new ones for programs, which act as a person without a sign-in. */
const { setup } = useSetup()
const { attempt } = useNotices()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/setup/tokens')))
const open = ref(false)
const programs = computed(() => setup.value.people.filter((one) => one.program && one.active))
const program = ref('')
const named = ref({ name: '', role: 'member' })
const ROLES = ['member', 'lead', 'administrator'].map((value) => ({ value, words: value }))

async function make(token: Schemas['TokenForm']) {
  const body = program.value ? { token, program: program.value } : { token, new_program: named.value }
  const made = await answerOf(api.POST('/api/setup/tokens', { body }))
  data.value = { tokens: made.tokens }
  await loadSetup()
  return made
}
const end = (token: Schemas['Token']) =>
  attempt(
    async () => (data.value = await answerOf(api.DELETE('/api/setup/tokens', { body: { id: token.id } }))),
    `The token ${token.name} has ended.`,
  )
function begin() {
  program.value = programs.value[0]?.key ?? ''
  named.value = { name: '', role: 'member' }
  open.value = true
}
</script>

<template>
  <div class="mb-2 flex items-center gap-3">
    <h2 class="text-lg font-semibold">Tokens</h2>
    <button type="button" class="btn btn-go" @click="begin">New token for a program</button>
  </div>
  <p class="mb-3 max-w-prose text-muted">
    With a token a program calls Yenvo: as a program of its own, or as the person who made the token on their own page.
  </p>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <TokenList v-if="data?.tokens.length" :tokens="data.tokens" whose @end="end" />
  <p v-else-if="data" class="p-3 text-muted">There is no token yet.</p>
  <TokenDialog v-slot="{ wrong }" :open="open" :make="make" @close="open = false">
    <FormRow v-if="programs.length" label="Of which program" plain :wrong="wrong.program"
      ><SelectBox
        v-model="program"
        :options="[
          ...programs.map((one) => ({ value: one.key, words: `${one.name} (${one.role})` })),
          { value: '', words: 'a new one' },
        ]"
        label="Of which program"
        wide
    /></FormRow>
    <div v-if="!program" class="grid grid-cols-2 gap-x-4">
      <FormRow v-slot="{ id }" label="Name of the program" :wrong="programs.length ? undefined : wrong.program"
        ><input :id="id" v-model="named.name" class="input" maxlength="120" required
      /></FormRow>
      <FormRow label="May what a … may" plain :wrong="wrong.role"
        ><SelectBox v-model="named.role" :options="ROLES" label="Role of the program" wide
      /></FormRow>
    </div>
  </TokenDialog>
</template>

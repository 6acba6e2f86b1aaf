<script setup lang="ts">
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import KeptTable from './KeptTable.vue'
import TextSheet from './TextSheet.vue'
import { useChange } from './useChange'
import { useOpenKept } from './useKept'

/** Texts that several rules send. */
const { setup } = useSetup()
const { busy, send } = useChange()
const { say } = useNotices()
const { open, go } = useOpenKept()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/texts')), [setup])
async function bringBack(one: Schemas['Kept']) {
  if (await send(() => answerOf(api.POST('/api/texts/back', { body: { key: one.key } })))) say(`${one.name} is back.`)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <template v-if="data">
    <TextSheet
      v-if="open !== null"
      :key="open"
      :row="data.texts.find((one) => one.key === open) ?? null"
      @close="go(null)"
    />
    <template v-else>
      <div class="mb-2 flex items-center gap-3">
        <h2 class="text-lg font-semibold">Texts</h2>
        <button type="button" class="btn btn-go" @click="go('')">New text</button>
      </div>
      <p class="mb-3 max-w-xl text-muted">
        Words that several rules send by mail, on a board or as a notice. A rule stays at the version with which it was
        published, unless it says that it always takes the newest.
      </p>
      <KeptTable :rows="data.texts" noun="text" :busy="busy" @open="go" @back="bringBack">
        <template #none>No text yet. Rules can also say what they send themselves.</template>
      </KeptTable>
    </template>
  </template>
</template>

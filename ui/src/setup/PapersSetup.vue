<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import KeptTable from './KeptTable.vue'
import LetterheadDialog from './LetterheadDialog.vue'
import PaperSheet from './PaperSheet.vue'
import { useChange } from './useChange'
import { useOpenKept } from './useKept'

/** Papers that are filled in from records, and the letterhead on which those stand that are written here. */
const { setup } = useSetup()
const { busy, send } = useChange()
const { say } = useNotices()
const { open, go } = useOpenKept()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/papers')), [setup])
const heading = ref(false)
const uploading = ref(false)
function begin(upload: boolean) {
  uploading.value = upload
  void go('')
}
async function bringBack(one: Schemas['Kept']) {
  if (await send(() => answerOf(api.POST('/api/papers/back', { body: { key: one.key } })))) say(`${one.name} is back.`)
}
</script>

<template>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <template v-if="data">
    <PaperSheet
      v-if="open !== null"
      :key="open"
      :row="data.papers.find((one) => one.key === open) ?? null"
      :upload="uploading"
      @close="go(null)"
    />
    <template v-else>
      <div class="mb-2 flex flex-wrap items-center gap-3">
        <h2 class="text-lg font-semibold">Papers</h2>
        <button type="button" class="btn btn-go" @click="begin(false)">Write a paper</button>
        <button type="button" class="btn" @click="begin(true)">Upload one</button>
      </div>
      <p class="mb-3 max-w-xl text-muted">
        A paper is filled in from a record: by a rule, or by whoever does a task that asks for it. It is written here
        and comes out as PDF, or it is an ODT or DOCX of yours with the same blanks.
      </p>
      <KeptTable :rows="data.papers" noun="paper" :busy="busy" @open="go" @back="bringBack">
        <template #none>No paper yet.</template>
      </KeptTable>
      <section class="mt-8 max-w-xl">
        <div class="mb-1 flex items-center gap-3">
          <h2 class="text-lg font-semibold">Letterhead</h2>
          <button type="button" class="btn" @click="heading = true">Change it</button>
        </div>
        <div class="flex items-start justify-between gap-4 border border-line bg-paper px-4 py-3">
          <img v-if="data.letterhead.logo" :src="`/api/papers/logo?seen=${setup.stamp}`" alt="Logo" class="max-h-14" />
          <span v-else class="text-muted">No logo</span>
          <div class="text-right">
            <b class="font-semibold">{{ data.letterhead.name }}</b>
            <div v-for="line in data.letterhead.lines" :key="line" class="text-sm text-muted">{{ line }}</div>
          </div>
        </div>
      </section>
      <LetterheadDialog :open="heading" :letterhead="data.letterhead" @close="heading = false" />
    </template>
  </template>
</template>

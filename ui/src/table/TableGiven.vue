<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import { useNotices } from '@/lib/useNotices'

/** Gives a table to be brought in, and goes to its sheet. */
const props = defineProps<{ kind: string }>()
const router = useRouter()
const { attempt } = useNotices()
const input = useTemplateRef<HTMLInputElement>('input')
const busy = ref(false)
async function give() {
  const file = input.value?.files?.[0]
  if (!file || busy.value) return
  busy.value = true
  try {
    await attempt(async () => {
      const sent = {
        params: { query: { kind: props.kind, name: file.name } },
        body: file,
        bodySerializer: (bytes: unknown) => bytes as Blob,
        headers: { 'content-type': 'application/octet-stream' },
      }
      const made = await answerOf(api.POST('/api/imports', sent))
      await router.push(`/table/${made.id}`)
    })
  } finally {
    busy.value = false
    if (input.value) input.value.value = ''
  }
}
</script>

<template>
  <button type="button" class="btn btn-quiet whitespace-nowrap" :aria-busy="busy" @click="input?.click()">
    {{ busy ? 'Reading it…' : kind === 'contact' ? 'Bring in CSV or vCard' : 'Bring in CSV' }}
  </button>
  <input
    ref="input"
    type="file"
    class="hidden"
    accept=".csv,.txt,.tsv,.vcf,text/csv,text/plain,text/vcard"
    aria-label="Table to bring in"
    @change="give"
  />
</template>

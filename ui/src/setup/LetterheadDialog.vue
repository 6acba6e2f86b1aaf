<script setup lang="ts">
import { ref, watch } from 'vue'
import { answerOf, api } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import { useChange } from './useChange'

/** What stands at the top of papers that are written here: the lines of an address, and a logo. */
const props = defineProps<{ open: boolean; letterhead: { name: string; lines: string[]; logo: boolean } }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { wrong, busy, send } = useChange()
const lines = ref<string[]>([])
/** In Base64; empty for none, null for the same as before. */
const logo = ref<string | null>(null)
const chosen = ref('')
const MOST_BYTES = 500_000

watch(
  () => props.open,
  (open) => {
    if (!open) return
    lines.value = [...props.letterhead.lines]
    logo.value = null
    chosen.value = ''
    wrong.value = {}
  },
)
async function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  wrong.value = {}
  if (file.size > MOST_BYTES) wrong.value = { logo: 'The logo has at most 500 kB.' }
  else {
    const bytes = new Uint8Array(await file.arrayBuffer())
    logo.value = btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''))
    chosen.value = file.name
  }
  input.value = ''
}
async function save() {
  const body = { lines: lines.value, ...(logo.value === null ? {} : { logo: logo.value }) }
  if (!(await send(() => answerOf(api.PUT('/api/papers/letterhead', { body }))))) return
  say('The letterhead is saved.')
  emit('close')
}
</script>

<template>
  <DialogBox :open="open" title="Letterhead" @close="emit('close')">
    <form @submit.prevent="save">
      <p class="mb-3">
        At the top of each paper that is written here stands <b class="font-semibold">{{ letterhead.name }}</b>, and
        below it:
      </p>
      <FormRow v-slot="{ id }" label="Lines of the address, one a line" :wrong="wrong.lines">
        <LinesInput :id="id" v-model="lines" label="Lines of the address" />
      </FormRow>
      <FormRow label="Logo" :wrong="wrong.logo" hint="A PNG or JPEG of at most 500 kB." plain>
        <span class="mr-3">{{ chosen || (letterhead.logo && logo === null ? 'as before' : 'none') }}</span>
        <label class="cursor-pointer text-link hover:underline focus-within:outline-2">
          Choose one
          <input type="file" class="sr-only" accept=".png,.jpg,.jpeg" @change="choose" />
        </label>
        <button
          v-if="chosen || (letterhead.logo && logo === null)"
          type="button"
          class="link ml-3"
          @click="((logo = ''), (chosen = ''))"
        >
          No logo
        </button>
      </FormRow>
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">Save</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

<script setup lang="ts">
import DialogBox from '@/parts/DialogBox'
import MarkDialog from '@/parts/MarkDialog.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import type { SheetPage } from './useSheetPage'

/** The frame of a rule's or a kit's sheet: its head, what is wrong with the draft, the sheet, and what is asked. */
const props = defineProps<{ page: SheetPage; there: boolean }>()
defineSlots<{ head(): unknown; default(): unknown }>()
const { person } = useSession()
const { draft, trouble, fixed, kept, dropping, marking } = props.page
</script>

<template>
  <TroubleBox v-if="trouble" :text="trouble" @retry="page.load" />
  <template v-else-if="there">
    <slot name="head" />
    <p v-if="fixed" class="border-b border-line bg-band px-5 py-2">
      You can read this {{ page.noun }}. Administrators change {{ page.noun }}s; you are signed in as a
      {{ person?.role }}.
    </p>
    <p v-if="draft.wrong.value" class="border-b border-red bg-red-bg px-5 py-2" role="alert">
      The draft is not saved: {{ draft.wrong.value }}
      <button type="button" class="link" @click="draft.save()">Try again</button>
    </p>
    <slot />
    <DialogBox
      :open="draft.clash.value !== null"
      :title="`Somebody else changed this ${page.noun}`"
      @close="draft.theirs"
    >
      <p class="mb-4">{{ draft.clash.value }}</p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="draft.mine">Save mine over theirs</button>
        <button type="button" class="btn" @click="draft.theirs">Take theirs</button>
      </div>
    </DialogBox>
    <DialogBox :open="dropping" title="Throw the draft away?" @close="dropping = false">
      <p class="mb-4">
        {{
          kept?.version
            ? `The ${page.noun} goes back to version ${kept.version}.`
            : `The ${page.noun} was never published and goes with it.`
        }}
        This cannot be taken back.
      </p>
      <div class="flex gap-2">
        <button type="button" class="btn btn-go" @click="page.drop">Throw it away</button>
        <button type="button" class="btn" @click="dropping = false">Keep it</button>
      </div>
    </DialogBox>
    <MarkDialog v-if="kept" :open="marking" :mark="kept.mark" :save="page.setMark" @close="marking = false" />
  </template>
</template>

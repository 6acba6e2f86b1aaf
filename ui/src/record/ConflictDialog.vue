<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import DialogBox from '@/parts/DialogBox'

/** Somebody else changed the same field: both values are shown, and the person chooses. */
defineProps<{ clashes: Schemas['Clash'][] }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
const { moment } = useDates()
</script>

<template>
  <DialogBox
    :open="clashes.length > 0"
    title="Somebody else changed this while you were editing"
    @close="emit('theirs')"
  >
    <p class="mb-3">Nothing of yours was saved yet. Choose which value stands.</p>
    <table class="ledger mb-4 border border-line">
      <thead>
        <tr>
          <th>Field</th>
          <th>Yours</th>
          <th>Theirs, saved</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="clash in clashes" :key="clash.field">
          <td>{{ clash.label }}</td>
          <td class="font-semibold break-words">{{ clash.yours }}</td>
          <td class="break-words">
            <b>{{ clash.theirs }}</b>
            <div class="text-sm text-muted">
              {{ clash.who }}<template v-if="clash.at">, {{ moment(clash.at) }}</template>
            </div>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="flex flex-wrap gap-2">
      <button type="button" class="btn btn-go" @click="emit('mine')">Save mine over it</button>
      <button type="button" class="btn" @click="emit('theirs')">Take theirs</button>
    </div>
  </DialogBox>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { useSetup, type Kind } from '@/state/setup'
import AccessDialog from './AccessDialog.vue'
import { LEVEL_WORDS } from './types'

/** Who sees, changes and takes away what, kind by kind and list by list. */
const { setup } = useSetup()
const kept = (kind: Kind) =>
  kind.fields
    .filter((field) => field.kept)
    .map((field) => field.label)
    .join(', ')
const open = ref(false)
const chosen = ref<Kind | null>(null)
function edit(kind: Kind) {
  chosen.value = kind
  open.value = true
}
</script>

<template>
  <p class="mb-3 max-w-2xl">
    What somebody may not see is for them as if it were not there: in lists, in search, in tasks, in the trail, in what
    they are told. Administrators see everything, and so do rules.
  </p>
  <div class="overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>What</th>
          <th>Seen by</th>
          <th>Changed by</th>
          <th>Taken away by</th>
          <th>Kept for leads</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="kind in setup.kinds" :key="kind.key" class="cursor-pointer" @click="edit(kind)">
          <td>
            <button type="button" class="text-left font-semibold hover:underline">{{ kind.plural }}</button>
            <span v-if="kind.family === 'entry'" class="text-muted"> list</span>
          </td>
          <td :class="kind.seen_by === 'everyone' ? '' : 'font-semibold text-amber'">
            {{ LEVEL_WORDS[kind.seen_by] }}
          </td>
          <td>{{ LEVEL_WORDS[kind.changed_by] }}</td>
          <td>{{ LEVEL_WORDS[kind.taken_away_by] }}</td>
          <td>{{ kept(kind) || '–' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="mt-3 max-w-2xl text-muted">
    A record without an owner is in sight of leads. An entry of a list is seen by whoever also sees what stands there.
  </p>
  <AccessDialog v-if="chosen" :open="open" :kind="chosen" @close="open = false" />
</template>

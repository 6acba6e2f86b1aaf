<script setup lang="ts">
import type { Schemas } from '@/api/client'
import type { Place, Rule } from './model'
import { placeOf, spokenPlace } from './problems'

/** What stands between a draft and its publication, and which cases no branch or two branches take. */
defineProps<{ rule: Rule; problems: Schemas['Problem'][]; notes: Schemas['Note'][] }>()
const emit = defineEmits<{ go: [place: Place] }>()
const heads = { gap: 'Gap', overlap: 'Overlap', unknown: 'Not looked at', left: 'Has left', kept: 'Kept' }
</script>

<template>
  <div class="p-[14px]">
    <p v-if="!problems.length">Nothing stands between this rule and its publication.</p>
    <template v-else>
      <p class="mb-2">Before it can be published:</p>
      <ul>
        <li v-for="(problem, index) in problems" :key="index" class="border-b border-line py-2">
          <button type="button" class="link font-semibold" @click="emit('go', placeOf(problem, rule))">
            {{ spokenPlace(problem) }}
          </button>
          <div>It {{ problem.text }}.</div>
        </li>
      </ul>
    </template>
    <template v-if="notes.length">
      <p class="mt-4 mb-1">Worth knowing:</p>
      <ul>
        <li v-for="(note, index) in notes" :key="index" class="border-b border-line py-2">
          <span class="flag mr-2 bg-amber-bg text-amber">{{ heads[note.kind] }}</span>
          <button
            v-if="note.branches.length"
            type="button"
            class="link text-left"
            @click="emit('go', { what: 'branch', row: note.branches[note.branches.length - 1]! - 1 })"
          >
            {{ note.text }}.
          </button>
          <span v-else>{{ note.text }}.</span>
        </li>
      </ul>
      <p v-if="notes.some((note) => note.kind === 'gap')" class="mt-2 text-muted">
        A gap is no fault: the rule does nothing then. Add a branch or an otherwise where it should do something.
      </p>
    </template>
  </div>
</template>

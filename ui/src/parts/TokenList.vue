<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'

/** Tokens with what they let do, until when, and when they were used last; each alive one can be ended. */
const props = defineProps<{ tokens: Schemas['Token'][]; whose?: boolean }>()
const emit = defineEmits<{ end: [token: Schemas['Token']] }>()
const { moment } = useDates()
// Those that hold come first.
const rows = computed(() => [...props.tokens].sort((one, other) => Number(other.alive) - Number(one.alive)))
const state = (one: Schemas['Token']) => (one.alive ? '' : one.ended_at ? 'ended' : 'expired')
</script>

<template>
  <div class="overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>Name</th>
          <th v-if="whose">Whose</th>
          <th>Lets do</th>
          <th>Until</th>
          <th>Last used</th>
          <th><span class="sr-only">End it</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows" :key="one.id" :class="one.alive ? '' : 'text-muted'">
          <td class="font-semibold">
            {{ one.name }} <span v-if="state(one)" class="flag ml-1 bg-band-2">{{ state(one) }}</span>
          </td>
          <td v-if="whose">{{ one.whose }}</td>
          <td>{{ one.scopes.map((scope) => scope.replace('_', ' ')).join(', ') }}</td>
          <td class="whitespace-nowrap">{{ moment(one.expires_at) }}</td>
          <td class="whitespace-nowrap">{{ one.used_at ? moment(one.used_at) : 'never' }}</td>
          <td class="text-right">
            <button
              v-if="one.alive"
              type="button"
              class="link whitespace-nowrap"
              :aria-label="`End the token ${one.name}`"
              @click="emit('end', one)"
            >
              End it
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

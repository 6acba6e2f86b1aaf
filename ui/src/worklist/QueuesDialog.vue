<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import DialogBox from '@/parts/DialogBox'

/** All queues: what waits in each, how old it is, and how they flow. */
const props = defineProps<{ open: boolean; lead: boolean }>()
const emit = defineEmits<{ close: []; look: [queue: string]; work: [queue: string] }>()
const { data } = useLoaded(async () => (props.open ? answerOf(api.GET('/api/queues', {})) : null), [() => props.open])
</script>

<template>
  <DialogBox :open="open" title="Queues" wide @close="emit('close')">
    <div class="overflow-x-auto">
      <table class="ledger">
        <thead>
          <tr>
            <th>Queue</th>
            <th class="!text-right">Waits</th>
            <th class="!text-right">Late</th>
            <th>Oldest</th>
            <th class="!text-right">In, 7 days</th>
            <th class="!text-right">Done</th>
            <th><span class="sr-only">Steps</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="queue in data?.queues ?? []" :key="queue.key">
            <td>
              <button type="button" class="link text-left" @click="emit('look', queue.key)">{{ queue.name }}</button>
              <span v-if="queue.mine" class="flag ml-1 bg-band-2">yours</span>
            </td>
            <td class="text-right">{{ queue.open }}</td>
            <td class="text-right" :class="queue.late ? 'font-semibold text-red' : ''">{{ queue.late }}</td>
            <td class="whitespace-nowrap">{{ queue.age ? queue.age.replace('working', 'w.') : '–' }}</td>
            <td class="text-right">{{ queue.made }}</td>
            <td class="text-right">{{ queue.done }}</td>
            <td class="text-right">
              <button
                v-if="queue.open && (queue.mine || lead)"
                type="button"
                class="btn"
                @click="emit('work', queue.key)"
              >
                Work through
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <button type="button" class="btn btn-quiet mt-3" @click="emit('close')">Close</button>
  </DialogBox>
</template>

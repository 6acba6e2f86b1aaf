<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { useSetup } from '@/state/setup'
import { useChange } from './useChange'

/** The lists that were taken away, each to be brought back. */
const { setup } = useSetup()
const { busy, send } = useChange()
const { say } = useNotices()
const { data } = useLoaded(() => answerOf(api.GET('/api/setup/removed-lists')), [setup])
async function bringBack(kind: string, name: string) {
  if (await send(() => answerOf(api.POST('/api/setup/removed-lists', { body: { kind } }))))
    say(`The list ${name} is back; its ways in from outside are shut.`)
}
</script>

<template>
  <template v-if="data?.lists.length">
    <div class="lab px-4 pt-2 pb-1">Lists taken away</div>
    <div v-for="list in data.lists" :key="list.key" class="flex flex-wrap items-center gap-x-2 px-4 py-[3px]">
      <span class="min-w-0 flex-1 break-words text-muted">{{ list.plural }}</span>
      <button
        type="button"
        class="link"
        :aria-label="`Bring back the list ${list.plural}`"
        :disabled="busy"
        @click="bringBack(list.key, list.plural)"
      >
        Bring back
      </button>
    </div>
  </template>
</template>

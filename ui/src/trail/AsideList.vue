<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import { useIntervalFn, useThrottleFn } from '@vueuse/core'

/** Events that no worker could settle. Nothing is shown while there are none. */
const { moment } = useDates()
const { attempt } = useNotices()
const { data, reload } = useLoaded(() => answerOf(api.GET('/api/asides', {})))
useLive(useThrottleFn(() => reload(), 5000, true))
// What is settled at last may change nothing that would be news.
useIntervalFn(() => data.value?.entries.length && void reload(), 3000)

async function again(entry: number) {
  await attempt(() => answerOf(api.POST('/api/asides/{id}/again', { params: { path: { id: entry } } })))
  void reload()
}
</script>

<template>
  <section
    v-if="data?.entries.length"
    class="border-b border-line bg-amber-bg px-3 py-3 sm:px-5"
    aria-label="Stands aside"
  >
    <h2 class="font-semibold text-amber">
      {{ counted(data.entries.length, 'event') }} could not be settled and
      {{ data.entries.length === 1 ? 'stands' : 'stand' }} aside
    </h2>
    <p class="mb-1 text-sm">
      No rule has met {{ data.entries.length === 1 ? 'it' : 'them' }} yet. Later events of the same record wait behind,
      so that their order is kept. Yenvo tries again by itself; once the cause is mended, you can have it tried at once.
    </p>
    <ul>
      <li
        v-for="one in data.entries"
        :key="one.entry"
        class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-line py-2"
      >
        <span class="font-mono text-[12px] whitespace-nowrap">{{ moment(one.at) }}</span>
        <span>
          <RouterLink v-if="one.record" :to="`/record/${one.record.id}`">{{ one.record.title }}</RouterLink>
          <span v-else>{{ one.task ?? 'A record that is gone' }}</span>
          <span class="text-muted">
            · {{ one.what }} · tried {{ counted(one.tries, 'time') }}
            <template v-if="one.behind">· {{ counted(one.behind, 'later event') }} behind it</template>
          </span>
        </span>
        <code class="min-w-0 flex-1 basis-60 font-mono text-[12px] break-words text-red">{{ one.why }}</code>
        <button type="button" class="btn" @click="again(one.entry)">Try again now</button>
      </li>
    </ul>
  </section>
</template>

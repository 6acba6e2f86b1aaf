<script setup lang="ts">
import { useThrottleFn } from '@vueuse/core'
import { computed } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLive } from '@/api/live'
import { useDates } from '@/lib/dates'
import { useLoaded } from '@/lib/useLoaded'
import { wayWords } from '@/lib/words'

/** Tasks that timers will make for a person within a week if nothing changes. They are not there yet. */
const props = defineProps<{ who: string }>()
const { moment } = useDates()
const { data, reload } = useLoaded(
  () => answerOf(api.GET('/api/worklist/coming', { params: { query: { who: props.who } } })),
  [() => props.who],
)
// News comes twice a second at busy times; what is a day away can wait a little.
useLive(useThrottleFn(() => void reload(), 10_000, true))
const items = computed(() => data.value?.items ?? [])
</script>

<template>
  <table v-if="items.length" class="ledger table-fixed" data-test="coming">
    <!-- The same columns as the list above has. -->
    <colgroup>
      <col class="w-[44px]" />
      <col />
      <col class="hidden w-[24%] sm:table-column" />
      <col class="hidden w-[72px] lg:table-column" />
      <col class="hidden w-[19%] lg:table-column" />
      <col class="hidden w-[170px] sm:table-column" />
    </colgroup>
    <thead class="sr-only">
      <tr>
        <th>Not there yet</th>
        <th>Task</th>
        <th>About</th>
        <th>Answer by</th>
        <th>From</th>
        <th>Comes</th>
      </tr>
    </thead>
    <tbody class="border-t border-pine">
      <tr class="ledger-group">
        <td colspan="6" class="!border-b !border-line !bg-paper !pt-[9px]">
          <b>Coming by itself</b>
          <span class="text-muted"> Yenvo will make these within a week if nothing changes · {{ items.length }}</span>
        </td>
      </tr>
      <tr v-for="(item, index) in items" :key="index" class="text-muted">
        <td>
          <span class="ml-[10px] block size-[11px] rounded-full border border-dashed border-muted" aria-hidden="true" />
        </td>
        <td class="break-words">
          {{ item.title }}
          <span class="block sm:hidden">{{ item.record?.title }} · {{ moment(item.at) }}</span>
        </td>
        <td class="hidden break-words sm:table-cell">
          <RouterLink v-if="item.record" :to="`/record/${item.record.id}`">{{ item.record.title }}</RouterLink>
        </td>
        <td class="hidden lg:table-cell">{{ wayWords(item.way) }}</td>
        <td class="hidden break-words lg:table-cell">{{ item.rule.name }}</td>
        <td class="hidden text-right sm:table-cell">
          {{ moment(item.at)
          }}<span v-if="item.depends.length" class="block">{{
            item.depends[0]!.startsWith('unless ') ? item.depends[0] : `if ${item.depends[0]}`
          }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

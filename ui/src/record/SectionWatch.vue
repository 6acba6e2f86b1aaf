<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { counted, several } from '@/lib/words'
import type { Kind } from '@/state/setup'

/** The stages or sections of a kind, each with how many rules watch it; a press shows and opens them. */
const props = defineProps<{ kind: Kind }>()
const { data } = useLoaded(
  () => answerOf(api.GET('/api/setup/watching', { params: { query: { kind: props.kind.key } } })),
  [() => props.kind.key],
)
const watching = (stage: string) => data.value?.stages[stage] ?? []
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-paper px-3 py-2 sm:px-5">
    <span class="lab">{{ several(kind.stage_label) }}</span>
    <span v-for="stage in kind.stages" :key="stage.key" class="flex items-baseline gap-1">
      {{ stage.label }}
      <Popover v-if="watching(stage.key).length" class="relative">
        <PopoverButton class="link text-sm">{{ counted(watching(stage.key).length, 'rule') }}</PopoverButton>
        <PopoverPanel class="absolute left-0 z-30 mt-1 w-64 rounded-xs border border-pine bg-paper py-1">
          <RouterLink
            v-for="rule in watching(stage.key)"
            :key="rule.id"
            :to="`/rules/${rule.id}`"
            class="block px-3 py-[6px] hover:bg-band"
            >{{ rule.name }}</RouterLink
          >
        </PopoverPanel>
      </Popover>
      <span v-else class="text-sm text-muted">no rule</span>
    </span>
  </div>
</template>

<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { computed } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import { useSession } from '@/state/session'
import type { Kind } from '@/state/setup'

/** Starts a rule by hand on chosen records. There for leads and administrators, where such a rule is on. */
const props = defineProps<{ kind: Kind; records: number[] }>()
const emit = defineEmits<{ started: [] }>()
const { isLead } = useSession()
const { say, attempt } = useNotices()
const { data } = useLoaded(async () => (isLead.value ? await answerOf(api.GET('/api/rules', {})) : null))

const rules = computed(() =>
  (data.value?.rules ?? []).filter((rule) => rule.kind === props.kind.key && rule.state === 'on' && rule.by_hand),
)
async function start(id: number, name: string) {
  await attempt(async () => {
    const body = { records: props.records.slice(0, 500) }
    const answer = await answerOf(api.POST('/api/rules/{id}/start', { params: { path: { id } }, body }))
    const many = counted(answer.started, props.kind.label.toLowerCase(), props.kind.plural.toLowerCase())
    say(`“${name}” is started on ${many}.`)
    emit('started')
  })
}
</script>

<template>
  <Menu v-if="rules.length" as="div" class="relative">
    <MenuButton class="btn btn-quiet" :disabled="!records.length">Start a rule ▾</MenuButton>
    <MenuItems class="absolute right-0 z-30 mt-1 min-w-60 rounded-xs border border-pine bg-paper py-1 outline-none">
      <MenuItem v-for="rule in rules" :key="rule.id" v-slot="{ active }">
        <button
          type="button"
          class="w-full px-3 py-2 text-left"
          :class="active ? 'bg-band-2' : ''"
          @click="start(rule.id, rule.name)"
        >
          {{ rule.name }}
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>

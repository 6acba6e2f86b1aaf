<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useLive } from '@/api/live'
import { answerOf, api } from '@/api/client'
import BellMenu from '@/bell/BellMenu.vue'
import { initials } from '@/lib/words'
import { useNotices } from '@/lib/useNotices'
import { useLoaded } from '@/lib/useLoaded'
import { useSession } from '@/state/session'
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { whenOpened } from '@/lib/whenOpened'
const FindDialog = whenOpened(() => import('./FindDialog.vue'))

const { session, person, mayWriteRules, signOut } = useSession()
const route = useRoute()
const router = useRouter()
const { attempt } = useNotices()
const finding = ref(false)

const { data: counts, reload } = useLoaded(() => answerOf(api.GET('/api/worklist/counts')))
// News comes in bursts while rules run; one look after them will do.
const { connected } = useLive(useDebounceFn(reload, 300, { maxWait: 2000 }))
const open = computed(() => counts.value?.open ?? 0)

const places = computed(() => [
  { to: '/worklist', words: 'Worklist' },
  { to: '/records', words: 'Records' },
  { to: '/rules', words: 'Rules' },
  { to: '/kits', words: 'Kits' },
  { to: '/trail', words: 'Trail' },
  ...(mayWriteRules.value ? [{ to: '/setup', words: 'Set-up' }] : []),
])

const here = computed(() => places.value.find((place) => route.path.startsWith(place.to)))

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    finding.value = true
  }
})

async function leave() {
  if (await attempt(signOut)) void router.push('/sign-in')
}
</script>

<template>
  <header class="flex min-h-11 items-stretch bg-pine px-3 text-white sm:px-5">
    <RouterLink
      to="/worklist"
      class="brand mr-2 self-center text-lg font-extrabold text-white hover:no-underline sm:mr-8"
      >Yenvo</RouterLink
    >
    <Menu as="div" class="relative self-center sm:hidden">
      <MenuButton class="flex items-center gap-1 px-2 py-2 font-semibold text-white" aria-label="Go to">
        {{ here?.words ?? 'Go to' }}<sup v-if="open" class="text-[10px] font-bold text-gold">{{ open }}</sup>
        <span aria-hidden="true" class="text-[10px]">▾</span>
      </MenuButton>
      <MenuItems
        class="absolute left-0 z-40 mt-1 w-48 rounded-xs border border-pine bg-paper py-1 text-ink outline-none"
      >
        <MenuItem v-for="place in places" :key="place.to" v-slot="{ active }">
          <RouterLink
            :to="place.to"
            class="block px-3 py-2 text-ink hover:no-underline"
            :class="active ? 'bg-band-2' : ''"
            :aria-current="route.path.startsWith(place.to) ? 'page' : undefined"
            >{{ place.words }}</RouterLink
          >
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="w-full px-3 py-2 text-left"
            :class="active ? 'bg-band-2' : ''"
            @click="finding = true"
          >
            Find or go to
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
    <nav class="hidden overflow-x-auto sm:flex" aria-label="Main">
      <RouterLink
        v-for="place in places"
        :key="place.to"
        :to="place.to"
        class="place"
        :class="route.path.startsWith(place.to) ? 'border-b-gold font-semibold text-white' : ''"
        :aria-current="route.path.startsWith(place.to) ? 'page' : undefined"
        >{{ place.words
        }}<sup v-if="place.to === '/worklist' && open" class="ml-1 text-[10px] font-bold text-gold">{{
          open
        }}</sup></RouterLink
      >
    </nav>
    <span v-if="!connected" class="ml-4 self-center text-sm text-gold" role="status">Not connected; trying again</span>
    <button
      type="button"
      class="finder ml-auto hidden w-[230px] items-center justify-between self-center md:flex"
      aria-keyshortcuts="Control+K"
      @click="finding = true"
    >
      <span>Find or go to</span><span class="font-mono text-sm" aria-hidden="true">Ctrl K</span>
    </button>
    <BellMenu class="ml-auto md:ml-3" />
    <Menu v-if="person" as="div" class="relative ml-2 self-center">
      <MenuButton
        class="grid size-7 place-items-center rounded-xs bg-gold text-xs font-bold text-ink"
        :aria-label="`${person.name}, ${person.role}`"
        ><span aria-hidden="true">{{ initials(person.name) }}</span></MenuButton
      >
      <MenuItems
        class="absolute right-0 z-40 mt-2 w-52 rounded-xs border border-pine bg-paper py-1 text-ink outline-none"
      >
        <div class="border-b border-line px-3 py-2">
          <div class="font-semibold">{{ person.name }}</div>
          <div class="text-sm text-muted">{{ person.role }}, {{ session?.house }}</div>
        </div>
        <MenuItem v-slot="{ active }">
          <RouterLink to="/me" class="block px-3 py-2 text-ink hover:no-underline" :class="active ? 'bg-band-2' : ''"
            >Your page</RouterLink
          >
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="w-full px-3 py-2 text-left" :class="active ? 'bg-band-2' : ''" @click="leave">
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
    <FindDialog :open="finding" @close="finding = false" />
  </header>
</template>

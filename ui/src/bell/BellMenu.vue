<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import ToldList from './ToldList.vue'
import { useBell } from './useBell'

/** The bell: how many notices are unread, and the latest of them. */
const { notices, unread, read } = useBell()
</script>

<template>
  <Popover class="relative self-center">
    <PopoverButton
      class="flex items-center gap-1 rounded-xs px-2 py-1 font-medium text-mist hover:text-white"
      :aria-label="unread ? `Notices, ${unread} unread` : 'Notices, none unread'"
      data-test="bell"
    >
      Notices<sup v-if="unread" class="text-[10px] font-bold text-gold">{{ unread > 99 ? '99+' : unread }}</sup>
    </PopoverButton>
    <PopoverPanel
      v-slot="{ close }"
      class="absolute right-0 z-40 mt-2 w-80 max-w-[92vw] rounded-xs border border-pine bg-paper text-ink"
    >
      <div class="flex items-center justify-between border-b border-pine bg-band-2 px-3 py-2">
        <b>What you were told</b>
        <button v-if="unread" type="button" class="link text-sm" @click="read(null)">All read</button>
      </div>
      <ToldList
        class="max-h-96 overflow-y-auto"
        :notices="notices.slice(0, 8)"
        @open="(notice) => (read([notice.id]), close())"
      />
      <RouterLink to="/notices" class="block px-3 py-2" @click="close()">All of them</RouterLink>
    </PopoverPanel>
  </Popover>
</template>

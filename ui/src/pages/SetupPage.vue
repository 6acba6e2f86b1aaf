<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import AccessSetup from '@/setup/AccessSetup.vue'
import AddressesSetup from '@/setup/AddressesSetup.vue'
import AuditList from '@/setup/AuditList.vue'
import DesksSetup from '@/setup/DesksSetup.vue'
import FormsSetup from '@/setup/FormsSetup.vue'
import HouseSetup from '@/setup/HouseSetup.vue'
import KindSetup from '@/setup/KindSetup.vue'
import MailInSetup from '@/setup/MailInSetup.vue'
import ListDialog from '@/setup/ListDialog.vue'
import ListsAway from '@/setup/ListsAway.vue'
import PapersSetup from '@/setup/PapersSetup.vue'
import OutboxSetup from '@/setup/OutboxSetup.vue'
import PeopleSetup from '@/setup/PeopleSetup.vue'
import ProgramsSetup from '@/setup/ProgramsSetup.vue'
import TextsSetup from '@/setup/TextsSetup.vue'
import TokensSetup from '@/setup/TokensSetup.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** What records can hold, which lists there are, and who works here. */
const route = useRoute()
const { setup, kindOf } = useSetup()
const { mayWriteRules, person } = useSession()
const place = computed(() => String(route.params.place))
const kind = computed(() => kindOf(place.value))
const adding = ref(false)
const PLACES = [
  { key: 'house', name: 'House and calendar' },
  { key: 'people', name: 'People' },
  { key: 'desks', name: 'Teams and queues' },
  { key: 'access', name: 'Access' },
  { key: 'tokens', name: 'Tokens' },
  { key: 'texts', name: 'Texts' },
  { key: 'papers', name: 'Papers' },
  { key: 'forms', name: 'Forms' },
  { key: 'programs', name: 'Programs' },
  { key: 'mail', name: 'Mail that comes in' },
  { key: 'addresses', name: 'Addresses' },
  { key: 'outbox', name: 'Outbox' },
  { key: 'audit', name: 'Audit' },
]
const placeName = computed(() => PLACES.find((one) => one.key === place.value)?.name ?? '')
const groups = computed(() => [
  { name: 'Records', kinds: setup.value.kinds.filter((one) => one.family !== 'entry') },
  { name: 'Lists', kinds: setup.value.kinds.filter((one) => one.family === 'entry') },
])
</script>

<template>
  <p v-if="!mayWriteRules" class="p-6 text-muted">
    The set-up is changed by administrators; you are signed in as a {{ person?.role }}.
  </p>
  <template v-else>
    <div class="flex items-center gap-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
      <h1 class="text-xl font-bold">Set-up</h1>
      <span class="text-muted">{{ kind?.plural ?? placeName }}</span>
    </div>
    <div class="grid flex-1 sm:grid-cols-[210px_1fr]">
      <nav
        class="border-pine bg-paper py-2 max-sm:flex max-sm:flex-wrap max-sm:border-b sm:border-r"
        aria-label="Parts of the set-up"
      >
        <template v-for="group in groups" :key="group.name">
          <div class="lab px-4 pt-2 pb-1 max-sm:w-full">{{ group.name }}</div>
          <RouterLink
            v-for="one in group.kinds"
            :key="one.key"
            :to="`/setup/${one.key}`"
            class="block px-4 py-[6px] text-ink hover:bg-band hover:no-underline max-sm:px-3"
            :class="place === one.key ? 'bg-chosen font-semibold' : ''"
            >{{ one.plural }}</RouterLink
          >
        </template>
        <button type="button" class="link px-4 py-[6px]" @click="adding = true">New list</button>
        <ListsAway />
        <div class="lab px-4 pt-2 pb-1 max-sm:w-full">House</div>
        <RouterLink
          v-for="one in PLACES"
          :key="one.key"
          :to="`/setup/${one.key}`"
          class="block px-4 py-[6px] text-ink hover:bg-band hover:no-underline max-sm:px-3"
          :class="place === one.key ? 'bg-chosen font-semibold' : ''"
          >{{ one.name }}</RouterLink
        >
      </nav>
      <div class="min-w-0 p-3 sm:p-5">
        <KindSetup v-if="kind" :key="kind.key" :kind="kind" />
        <PeopleSetup v-else-if="place === 'people'" />
        <HouseSetup v-else-if="place === 'house'" />
        <DesksSetup v-else-if="place === 'desks'" />
        <AccessSetup v-else-if="place === 'access'" />
        <TokensSetup v-else-if="place === 'tokens'" />
        <TextsSetup v-else-if="place === 'texts'" />
        <PapersSetup v-else-if="place === 'papers'" />
        <FormsSetup v-else-if="place === 'forms'" />
        <ProgramsSetup v-else-if="place === 'programs'" />
        <MailInSetup v-else-if="place === 'mail'" />
        <AddressesSetup v-else-if="place === 'addresses'" />
        <OutboxSetup v-else-if="place === 'outbox'" />
        <AuditList v-else-if="place === 'audit'" />
        <p v-else class="text-muted">There is no such part of the set-up. Choose one on the left.</p>
      </div>
    </div>
    <ListDialog :open="adding" @close="adding = false" />
  </template>
</template>

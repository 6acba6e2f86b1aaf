<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { sentenceOf, whenSignedOut } from '@/api/client'
import HelpDialog from '@/parts/HelpDialog.vue'
import NoticeList from '@/parts/NoticeList.vue'
import ClockBar from '@/parts/ClockBar.vue'
import TopBar from '@/parts/TopBar.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import ProposalStrip from '@/worklist/ProposalStrip.vue'
import { useSession } from '@/state/session'
import { loadSetup, useSetup } from '@/state/setup'

const route = useRoute()
const router = useRouter()
const { session, person, load, forget } = useSession()
const { ready } = useSetup()
const trouble = ref<string | null>(null)
const open = computed(() => route.meta.open === true)

whenSignedOut(() => {
  forget()
  if (!open.value) void router.push({ path: '/sign-in', query: { to: route.fullPath } })
})

async function begin() {
  trouble.value = null
  try {
    if (!session.value) await load()
    if (person.value) await loadSetup()
    else if (!open.value) await router.push({ path: '/sign-in', query: { to: route.fullPath } })
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}

// The first route is known only when the router is ready.
void router.isReady().then(begin)
watch(() => person.value?.key, begin)
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a href="#main" class="sr-only focus:not-sr-only focus:bg-gold focus:p-2">To the content</a>
    <TopBar v-if="person && ready && !open" />
    <ClockBar v-if="person && ready && !open" />
    <ProposalStrip v-if="person && ready && !open" />
    <TroubleBox v-if="trouble" :text="trouble" @retry="begin" />
    <main id="main" class="flex min-h-0 flex-1 flex-col">
      <RouterView v-if="open || (person && ready)" />
    </main>
    <HelpDialog v-if="person" />
    <NoticeList />
  </div>
</template>

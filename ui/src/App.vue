<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { sentenceOf, whenSignedOut } from '@/api/client'
import NoticeList from '@/parts/NoticeList.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { loadSetup, useSetup } from '@/state/setup'

/** What only people who are signed in see: visitors of a form do not load it. */
const HouseHead = defineAsyncComponent(() => import('@/parts/HouseHead.vue'))

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
    if (session.value && !session.value.open && route.path !== '/open') {
      await router.push('/open')
      return
    }
    if (person.value) await loadSetup()
    else if (!open.value) await router.push({ path: '/sign-in', query: { to: route.fullPath } })
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}

// A page whose part does not come, since the server is away or has a newer one, is asked for anew with all it needs.
const missed = ref<string | null>(null)
router.onError((_, to) => {
  missed.value = to.fullPath
  trouble.value = 'This page could not be loaded. Nothing was lost; try again in a moment.'
})
router.afterEach(() => {
  if (missed.value) trouble.value = missed.value = null
})
const again = () => (missed.value ? location.assign(missed.value) : begin())

// The first route is known only when the router is ready.
void router.isReady().then(begin)
watch(() => person.value?.key, begin)
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a href="#main" class="sr-only focus:not-sr-only focus:bg-gold focus:p-2">To the content</a>
    <HouseHead v-if="person && ready && !open" />
    <TroubleBox v-if="trouble" :text="trouble" @retry="again" />
    <main id="main" class="flex min-h-0 flex-1 flex-col">
      <RouterView v-if="open || (person && ready)" />
    </main>
    <NoticeList />
  </div>
</template>

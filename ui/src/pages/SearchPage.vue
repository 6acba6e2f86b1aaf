<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, sentenceOf } from '@/api/client'
import { pagesNamed, pagesOf, placeOf, SORT_WORDS, type Sort } from '@/lib/search'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** All that has some words: some of each sort, or all of one, page by page. */
const route = useRoute()
const router = useRouter()
const { setup } = useSetup()
const { mayWriteRules, isLead } = useSession()
const asked = computed(() => (typeof route.query.text === 'string' ? route.query.text : ''))
const only = computed(() =>
  typeof route.query.only === 'string' && route.query.only in SORT_WORDS
    ? (route.query.only as Sort['sort'])
    : undefined,
)
const typed = ref(asked.value)
const write = useDebounceFn(() => router.replace({ query: { ...route.query, text: typed.value.trim() } }), 250)
const sorts = ref<Sort[]>([])
const indexing = ref(false)
const trouble = ref('')
const busy = ref(false)
async function load(after?: string) {
  trouble.value = ''
  const text = asked.value.trim()
  if (!text) {
    sorts.value = []
    return
  }
  busy.value = true
  try {
    const query = { text, ...(only.value ? { only: only.value } : {}), ...(after ? { after } : {}) }
    const answer = await answerOf(api.GET('/api/search', { params: { query } }))
    if (text !== asked.value.trim()) return
    indexing.value = answer.indexing
    sorts.value = after
      ? answer.sorts.map((one, i) => ({ ...one, found: [...(sorts.value[i]?.found ?? []), ...one.found] }))
      : answer.sorts
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  } finally {
    busy.value = false
  }
}
watch([asked, only], () => void load(), { immediate: true })
const some = computed(() => sorts.value.filter((one) => one.found.length || one.next))
const pages = computed(() =>
  asked.value.trim() && !only.value
    ? pagesNamed(pagesOf(setup.value.kinds, { lead: isLead.value, set: mayWriteRules.value }), asked.value)
    : [],
)
</script>

<template>
  <div class="flex flex-wrap items-center gap-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Find</h1>
    <input
      v-model="typed"
      type="search"
      class="input !w-full sm:!w-96"
      aria-label="Words, e-mail, phone or number"
      placeholder="Any words, an e-mail, phone or number"
      maxlength="200"
      @input="write"
    />
    <RouterLink v-if="only" :to="{ query: { text: asked } }">All sorts</RouterLink>
  </div>
  <TroubleBox v-if="trouble" :text="trouble" class="m-5" @retry="load()" />
  <div v-else class="max-w-4xl p-3 sm:p-5" :aria-busy="busy">
    <section v-for="sort in some" :key="sort.sort" class="mb-5" :aria-label="SORT_WORDS[sort.sort]">
      <h2 class="mb-1 text-lg font-semibold">{{ SORT_WORDS[sort.sort] }}</h2>
      <p v-if="!sort.found.length" class="text-muted">None among the newest; there may be some further back.</p>
      <ul v-else class="border-t border-line bg-paper">
        <li v-for="one in sort.found" :key="one.id" class="border-b border-line px-3 py-2">
          <RouterLink :to="placeOf(sort.sort, one)" class="font-semibold">{{ one.title }}</RouterLink>
          <span class="text-muted">
            · {{ [one.kind, one.state].filter(Boolean).join(', ') || SORT_WORDS[sort.sort] }}</span
          >
          <span v-if="!['Title', 'Name'].includes(one.why)" class="block break-words">{{ one.why }}</span>
        </li>
      </ul>
      <p v-if="sort.next" class="mt-2">
        <RouterLink v-if="!only" :to="{ query: { text: asked, only: sort.sort } }">
          All {{ SORT_WORDS[sort.sort].toLowerCase() }} that have it
        </RouterLink>
        <button v-else type="button" class="btn" :disabled="busy" @click="load(sort.next ?? undefined)">
          Look further back
        </button>
      </p>
    </section>
    <section v-if="pages.length" aria-label="Pages">
      <h2 class="mb-1 text-lg font-semibold">Pages</h2>
      <ul class="border-t border-line bg-paper">
        <li v-for="page in pages" :key="page.to" class="border-b border-line px-3 py-2">
          <RouterLink :to="page.to" class="font-semibold">{{ page.words }}</RouterLink>
        </li>
      </ul>
    </section>
    <p v-if="indexing" class="mb-3 border border-amber bg-amber-bg px-3 py-2" role="status">
      What was there before the last update is still being indexed; some of it is not found yet.
    </p>
    <p v-if="!asked.trim()" class="text-muted">
      Type what you remember: words of a title, a note, a task; an e-mail; the last digits of a phone; a number.
    </p>
    <p v-else-if="!busy && !some.length && !pages.length" class="text-muted">
      Nothing has “{{ asked }}”. Words must begin as you typed them, phones end so.
    </p>
  </div>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import OutsidePage from '@/parts/OutsidePage.vue'

/** Stops mails of one kind, for whoever has got one and pressed its link. */
const route = useRoute()
const state = ref<'asking' | 'stopped' | 'wrong'>('asking')
const wrong = ref('')
async function stop() {
  try {
    const body = new URLSearchParams({ 'List-Unsubscribe': 'One-Click' })
    const answer = await fetch(`/unsubscribe/${encodeURIComponent(String(route.params.token))}`, {
      method: 'POST',
      body,
    })
    if (answer.ok) return (state.value = 'stopped')
    wrong.value = (await answer.json()).error
  } catch {
    wrong.value = 'Yenvo does not answer. Try again in a moment.'
  }
  state.value = 'wrong'
}
</script>

<template>
  <OutsidePage>
    <h1 class="mb-1 text-xl font-bold">No more mails like this?</h1>
    <p v-if="state === 'stopped'" class="mb-5 max-w-prose" role="status">
      Stopped. You are still told in the bell; on your own page you choose otherwise.
    </p>
    <template v-else>
      <p class="mb-5 max-w-prose text-muted">You are still told in the bell.</p>
      <p v-if="state === 'wrong'" class="mb-3 text-red" role="alert">{{ wrong }}</p>
      <button type="button" class="btn btn-go" @click="stop">Stop them</button>
    </template>
    <RouterLink to="/me" class="ml-4">Your own page</RouterLink>
  </OutsidePage>
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { whenOpened } from '@/lib/whenOpened'
import { counted } from '@/lib/words'

const ProposalDialog = whenOpened(() => import('./ProposalDialog.vue'))

/** Tasks and messages that rules filled in for the person to send or throw away. Nothing is made before. */
const { data, reload } = useLoaded(() => answerOf(api.GET('/api/proposals', {})))
useLive(() => reload())
const chosen = ref<Schemas['Proposal'] | null>(null)
const noun = computed(() => (data.value?.proposals.some((one) => one.message) ? 'thing' : 'task'))
function settled() {
  chosen.value = null
  void reload()
}
</script>

<template>
  <div
    v-if="data?.proposals.length"
    class="flex flex-wrap items-center gap-3 border-b border-gold bg-amber-bg px-3 py-2 sm:px-5"
    role="status"
  >
    <span>{{ counted(data.proposals.length, noun + ' waits', noun + 's wait') }} for you to send:</span>
    <button v-for="one in data.proposals.slice(0, 3)" :key="one.id" type="button" class="link" @click="chosen = one">
      {{ one.task?.title ?? one.message?.words }}
    </button>
  </div>
  <ProposalDialog :open="chosen !== null" :proposal="chosen" @close="chosen = null" @settled="settled" />
</template>

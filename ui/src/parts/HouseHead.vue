<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { useKeys } from '@/lib/useKeys'
import { whenOpened } from '@/lib/whenOpened'
import ProposalStrip from '@/worklist/ProposalStrip.vue'
import TopBar from './TopBar.vue'

/** What stands above every page of somebody who is signed in. */
// Only the demo moves its clock.
const ClockBar = defineAsyncComponent(() => import('./ClockBar.vue'))
const HelpDialog = whenOpened(() => import('./HelpDialog.vue'))
const helping = ref(false)
useKeys({ '?': () => (helping.value = true) })
</script>

<template>
  <TopBar />
  <ClockBar />
  <ProposalStrip />
  <HelpDialog :open="helping" @close="helping = false" />
</template>

<script setup lang="ts">
import ProposalStrip from '@/worklist/ProposalStrip.vue'
import ClockBar from './ClockBar.vue'
import HelpDialog from './HelpDialog.vue'
import TopBar from './TopBar.vue'

/** What stands above every page of somebody who is signed in. */
</script>

<template>
  <TopBar />
  <ClockBar />
  <ProposalStrip />
  <HelpDialog />
</template>

<script setup lang="ts">
import { useNotices } from '@/lib/useNotices'

/** Recovery codes, to be kept apart from the phone. */
const props = defineProps<{ codes: string[] }>()
const emit = defineEmits<{ done: [] }>()
const { attempt } = useNotices()
const copy = () => attempt(() => navigator.clipboard.writeText(props.codes.join('\n')), 'The codes are copied.')
</script>

<template>
  <div class="max-w-md">
    <p class="mb-2 font-semibold">Keep these recovery codes where your phone is not.</p>
    <p class="mb-3 text-muted">Each lets you in once when you have no authenticator at hand.</p>
    <ul
      class="mb-4 grid grid-cols-2 gap-x-6 border border-pine bg-band px-3 py-2 font-mono select-all"
      data-test="codes"
    >
      <li v-for="code in codes" :key="code">{{ code }}</li>
    </ul>
    <div class="flex gap-3">
      <button type="button" class="btn btn-go" @click="emit('done')">I have kept them</button>
      <button type="button" class="btn" @click="copy">Copy them</button>
    </div>
  </div>
</template>

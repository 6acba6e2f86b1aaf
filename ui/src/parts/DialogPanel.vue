<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

/** A small paper over the page. Escape and a press outside close it. */
defineProps<{ open: boolean; title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/30" aria-hidden="true" />
    <div class="fixed inset-0 overflow-y-auto">
      <div class="flex min-h-full items-start justify-center p-3 sm:pt-24">
        <DialogPanel class="w-full border border-pine bg-paper" :class="wide ? 'max-w-3xl' : 'max-w-lg'">
          <DialogTitle class="border-b border-pine bg-band-2 px-4 py-2 text-base font-semibold">{{
            title
          }}</DialogTitle>
          <div class="p-4"><slot /></div>
        </DialogPanel>
      </div>
    </div>
  </Dialog>
</template>

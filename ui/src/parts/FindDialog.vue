<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useSetup } from '@/state/setup'

/** Finds records by title, e-mail, phone or number, and goes to pages by name. */
defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { setup } = useSetup()
const text = ref('')
const found = ref<Schemas['Linked'][]>([])

const pages = computed(() =>
  [
    { to: '/worklist', words: 'Worklist' },
    { to: '/rules', words: 'Rules' },
    { to: '/trail', words: 'Trail' },
    { to: '/tables', words: 'Tables brought in' },
    { to: '/trash', words: 'Trash' },
    { to: '/duplicates/contact', words: 'Duplicates' },
    { to: '/bulk', words: 'Many at once' },
    ...setup.value.kinds.map((kind) => ({ to: `/records/${kind.key}`, words: kind.plural })),
  ].filter((page) => page.words.toLowerCase().includes(text.value.trim().toLowerCase())),
)

const look = useDebounceFn(async () => {
  const asked = text.value.trim()
  found.value = asked ? (await answerOf(api.GET('/api/find', { params: { query: { text: asked } } }))).found : []
}, 150)

function change(typed: string) {
  text.value = typed
  void look()
}

function go(to: unknown) {
  emit('close')
  change('')
  void router.push(to as string)
}
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/30" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center p-3 sm:pt-24">
      <DialogPanel class="w-full max-w-lg border border-pine bg-paper">
        <Combobox :model-value="''" @update:model-value="go">
          <ComboboxInput
            class="w-full border-b border-line px-4 py-3 outline-none"
            aria-label="Find or go to"
            placeholder="A title, e-mail, phone or number, or a page"
            autocomplete="off"
            @change="change(($event.target as HTMLInputElement).value)"
          />
          <ComboboxOptions static class="max-h-80 overflow-auto py-1">
            <ComboboxOption
              v-for="record in found"
              :key="record.id"
              v-slot="{ active }"
              :value="`/record/${record.id}`"
              as="template"
            >
              <li class="flex cursor-pointer justify-between gap-3 px-4 py-[6px]" :class="active ? 'bg-band-2' : ''">
                <span class="min-w-0 break-words"
                  >{{ record.title }}
                  <span v-if="record.why && record.why !== 'Title'" class="text-muted">{{ record.why }}</span></span
                ><span class="shrink-0 text-muted"
                  >{{ record.kind_label }}{{ record.stage ? `, ${record.stage}` : '' }}</span
                >
              </li>
            </ComboboxOption>
            <ComboboxOption v-for="page in pages" :key="page.to" v-slot="{ active }" :value="page.to" as="template">
              <li class="cursor-pointer px-4 py-[6px]" :class="active ? 'bg-band-2' : ''">
                <span class="text-muted">Go to</span> {{ page.words }}
              </li>
            </ComboboxOption>
            <li v-if="text && !found.length && !pages.length" class="px-4 py-3 text-muted">
              Nothing has “{{ text }}” in its title, e-mail, phone or number. Words and e-mails must begin as you typed
              them, phones end so.
            </li>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>

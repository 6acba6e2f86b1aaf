<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, sentenceOf } from '@/api/client'
import { pagesNamed, pagesOf, placeOf, SORT_WORDS, type Sort } from '@/lib/search'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** Finds anything that is kept by its words, e-mail, phone or number, and goes to pages by name. */
defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { setup } = useSetup()
const { mayWriteRules, isLead } = useSession()
const text = ref('')
const sorts = ref<Sort[]>([])
const trouble = ref('')
/** For which words what is shown was found. */
const shownFor = ref('')

const pages = computed(() =>
  pagesNamed(pagesOf(setup.value.kinds, { lead: isLead.value, set: mayWriteRules.value }), text.value),
)
const some = computed(() => sorts.value.filter((one) => one.found.length))
const all = computed(() => `/search?text=${encodeURIComponent(text.value.trim())}`)

const look = useDebounceFn(async () => {
  const asked = text.value.trim()
  trouble.value = ''
  try {
    const found = asked ? (await answerOf(api.GET('/api/search', { params: { query: { text: asked } } }))).sorts : []
    // A later question may have been answered sooner.
    if (asked !== text.value.trim()) return
    sorts.value = found
    shownFor.value = asked
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
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
      <DialogPanel class="w-full max-w-xl border border-pine bg-paper">
        <Combobox :model-value="''" @update:model-value="go">
          <ComboboxInput
            class="w-full border-b border-line px-4 py-3 outline-none"
            aria-label="Find or go to"
            placeholder="Any words, an e-mail, phone or number, or a page"
            autocomplete="off"
            maxlength="200"
            @change="change(($event.target as HTMLInputElement).value)"
          />
          <ComboboxOptions static class="max-h-[60vh] overflow-auto py-1">
            <template v-for="sort in some" :key="sort.sort">
              <li class="lab px-4 pt-2 pb-1" role="presentation">{{ SORT_WORDS[sort.sort] }}</li>
              <ComboboxOption
                v-for="one in sort.found"
                :key="one.id"
                v-slot="{ active }"
                :value="placeOf(sort.sort, one)"
                as="template"
              >
                <li class="flex cursor-pointer justify-between gap-3 px-4 py-[6px]" :class="active ? 'bg-band-2' : ''">
                  <span class="min-w-0 break-words"
                    >{{ one.title }}
                    <span v-if="!['Title', 'Name'].includes(one.why)" class="text-muted">{{ one.why }}</span></span
                  ><span class="shrink-0 text-muted">{{ [one.kind, one.state].filter(Boolean).join(', ') }}</span>
                </li>
              </ComboboxOption>
            </template>
            <ComboboxOption
              v-if="sorts.some((one) => one.found.length || one.next)"
              v-slot="{ active }"
              :value="all"
              as="template"
            >
              <li class="cursor-pointer border-t border-line px-4 py-[6px]" :class="active ? 'bg-band-2' : ''">
                <span class="text-muted">All that has</span> “{{ text.trim() }}”
              </li>
            </ComboboxOption>
            <ComboboxOption v-for="page in pages" :key="page.to" v-slot="{ active }" :value="page.to" as="template">
              <li class="cursor-pointer px-4 py-[6px]" :class="active ? 'bg-band-2' : ''">
                <span class="text-muted">Go to</span> {{ page.words }}
              </li>
            </ComboboxOption>
            <li v-if="trouble" class="px-4 py-3 text-red" role="alert">{{ trouble }}</li>
            <li
              v-else-if="
                text.trim() &&
                text.trim() === shownFor &&
                !some.length &&
                !pages.length &&
                !sorts.some((one) => one.next)
              "
              class="px-4 py-3 text-muted"
            >
              Nothing has “{{ text }}”. Words must begin as you typed them, phones end so.
            </li>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>

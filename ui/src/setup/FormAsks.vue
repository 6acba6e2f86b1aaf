<script setup lang="ts">
import { computed } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { asksOf, FILES, type Ask } from './formAsks'
import { TYPE_WORDS } from './types'

/** What a form asks, in order, each in the form's own words. */
const props = defineProps<{ kind: Kind; linked: boolean; wrong: Record<string, string> }>()
const items = defineModel<Ask[]>({ required: true })
const { kindOf } = useSetup()
const all = computed(() => asksOf(props.kind, kindOf('contact'), props.linked))
const left = computed(() =>
  all.value
    .filter((one) => !items.value.some((item) => item.ask === one.ask))
    .map((one) => ({ value: one.ask as string | null, words: one.words })),
)
const find = (ask: string) => all.value.find((one) => one.ask === ask)
const wordsOf = (ask: string) => find(ask)?.words ?? 'a field that is gone'
const typeOf = (ask: string) => (ask === FILES ? 'Files' : TYPE_WORDS[find(ask)?.field?.type ?? ''])
const usual = (ask: string) => find(ask)?.field?.label ?? 'Files'
const add = (ask: string | null) => ask && (items.value = [...items.value, { ask, label: usual(ask), required: false }])
const change = (at: number, given: Partial<Ask>) =>
  (items.value = items.value.map((one, index) => (index === at ? { ...one, ...given } : one)))
const drop = (at: number) => (items.value = items.value.filter((_, index) => index !== at))
function move(at: number, by: number) {
  const fresh = [...items.value]
  const [one] = fresh.splice(at, 1)
  fresh.splice(at + by, 0, one!)
  items.value = fresh
}
const wrongOf = (at: number) =>
  Object.entries(props.wrong)
    .filter(([key]) => key.startsWith(`items.${at}.`))
    .map(([, sentence]) => sentence)
    .join(' ')
</script>

<template>
  <ol class="border-b border-line" data-test="asks">
    <li
      v-for="(item, at) in items"
      :key="item.ask"
      class="grid grid-cols-[1fr_auto] gap-x-3 gap-y-1 border-t border-line py-2"
      :aria-label="wordsOf(item.ask)"
    >
      <div class="flex flex-wrap items-baseline gap-x-2">
        <span class="font-semibold">{{ wordsOf(item.ask) }}</span>
        <span class="text-sm text-muted">{{ typeOf(item.ask) }}</span>
        <label class="ml-auto flex items-center gap-1 text-sm"
          ><input
            type="checkbox"
            :checked="item.required"
            @change="change(at, { required: ($event.target as HTMLInputElement).checked })"
          />needed</label
        >
      </div>
      <div class="row-span-2 flex items-start gap-1">
        <button
          type="button"
          class="btn btn-quiet px-2"
          :disabled="at === 0"
          aria-label="Ask it earlier"
          @click="move(at, -1)"
        >
          ↑
        </button>
        <button
          type="button"
          class="btn btn-quiet px-2"
          :disabled="at === items.length - 1"
          aria-label="Ask it later"
          @click="move(at, 1)"
        >
          ↓
        </button>
        <button type="button" class="btn btn-quiet px-2" aria-label="Ask it no more" @click="drop(at)">×</button>
      </div>
      <div class="grid gap-x-2 gap-y-1 sm:grid-cols-2">
        <input
          class="input"
          :value="item.label ?? ''"
          aria-label="What visitors read"
          maxlength="200"
          :placeholder="usual(item.ask)"
          @input="change(at, { label: ($event.target as HTMLInputElement).value })"
        />
        <input
          class="input"
          :value="item.help ?? ''"
          aria-label="Help below it"
          maxlength="500"
          placeholder="help below it"
          @input="change(at, { help: ($event.target as HTMLInputElement).value })"
        />
      </div>
      <p v-if="wrongOf(at)" class="col-span-2 text-sm text-red" role="alert">{{ wrongOf(at) }}</p>
    </li>
  </ol>
  <p v-if="wrong.items" class="mt-1 text-sm text-red" role="alert">{{ wrong.items }}</p>
  <div v-if="left.length" class="mt-2 inline-block">
    <SelectBox :model-value="null" :options="left" label="Ask more" blank="Ask more" @update:model-value="add" />
  </div>
</template>

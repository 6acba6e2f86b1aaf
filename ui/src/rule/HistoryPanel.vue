<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import CompareDialog from './CompareDialog.vue'
import type { Rule } from './model'

/** The versions of a rule, what changed between any two in words, and an old one brought back. */
const props = defineProps<{ kept: Schemas['Rule']; fixed: boolean }>()
const emit = defineEmits<{ take: [rule: Rule] }>()
const { nameOf } = useSetup()
const { moment } = useDates()

type Compared = { one: Rule; other: Rule; changes: { where: string; text: string }[] }
const newest = computed(() => props.kept.versions[0]?.number ?? 0)
const options = computed(() => [
  ...(props.kept.draft ? [{ value: 0, words: 'the draft' }] : []),
  ...props.kept.versions.map((one) => ({ value: one.number, words: `version ${one.number}` })),
])
const one = ref(props.kept.draft ? newest.value : (props.kept.versions[1]?.number ?? newest.value))
const other = ref(props.kept.draft ? 0 : newest.value)
const compared = shallowRef<Compared | null>(null)
const wrong = ref<string | null>(null)
const beside = ref(false)

watch(
  [one, other, () => props.kept.stamp],
  async () => {
    try {
      const path = { id: props.kept.id, one: one.value, other: other.value }
      compared.value = await answerOf(api.GET('/api/rules/{id}/compare/{one}/{other}', { params: { path } }))
      wrong.value = null
    } catch (problem) {
      wrong.value = sentenceOf(problem)
    }
  },
  { immediate: true },
)
const words = (number: number) => options.value.find((option) => option.value === number)?.words ?? 'the draft'

async function bringBack(number: number) {
  const path = { id: props.kept.id, number }
  const answer = await answerOf(api.GET('/api/rules/{id}/versions/{number}', { params: { path } }))
  emit('take', answer.rule)
}
</script>

<template>
  <div class="p-[14px]">
    <ul class="mb-4">
      <li
        v-for="version in kept.versions"
        :key="version.number"
        class="flex items-baseline justify-between gap-3 border-b border-line py-2"
      >
        <span
          ><b>Version {{ version.number }}</b> by {{ nameOf(version.by) }}
          <span class="block text-muted">{{ moment(version.at) }}</span></span
        >
        <button
          v-if="!fixed && version.number !== kept.version"
          type="button"
          class="link whitespace-nowrap"
          @click="bringBack(version.number)"
        >
          Take as the draft
        </button>
        <span v-else-if="version.number === kept.version" class="flag bg-leaf-bg text-leaf">in force</span>
      </li>
    </ul>
    <div class="flex flex-wrap items-center gap-2">
      <span class="lab">From</span>
      <SelectBox v-model="one" :options="options" label="Compare" />
      <span class="lab">to</span>
      <SelectBox v-model="other" :options="options" label="Compare with" />
    </div>
    <p v-if="wrong" class="mt-2 text-red">{{ wrong }}</p>
    <template v-else-if="compared">
      <ul class="mt-2" data-test="changes">
        <li v-for="(change, index) in compared.changes" :key="index" class="border-b border-line py-[6px]">
          <b>{{ change.where }}</b> {{ change.text }}
        </li>
      </ul>
      <p v-if="!compared.changes.length" class="mt-2 text-muted">Both say the same.</p>
      <button v-else type="button" class="btn btn-quiet mt-3" @click="beside = true">Show them side by side</button>
    </template>
    <p class="mt-3 text-muted">A version never changes. Runs keep the version they ran under.</p>
    <CompareDialog
      v-if="compared"
      :open="beside"
      :one="compared.one"
      :other="compared.other"
      :one-words="words(one)"
      :other-words="words(other)"
      @close="beside = false"
    />
  </div>
</template>

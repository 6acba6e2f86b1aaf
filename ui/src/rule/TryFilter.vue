<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup, type Kind } from '@/state/setup'

/** Which records a draft is tried on: those with some words in the title, and with some values of one field. */
const props = defineProps<{ kind: Kind }>()
const filter = defineModel<Schemas['Filter']>({ required: true })
const { people } = useSetup()

const fields = computed(() =>
  props.kind.fields.filter(
    (field) =>
      ['choice', 'person', 'yes_no'].includes(field.type) && (field.key !== 'stage' || props.kind.stages.length),
  ),
)
const field = ref('')
const values = ref<string[]>([])
const search = ref('')
const options = computed(() => {
  const found = fields.value.find((one) => one.key === field.value)
  if (found?.type === 'person') return people.value.map((one) => ({ value: one.key, words: one.name }))
  if (found?.type === 'yes_no')
    return [
      { value: 'yes', words: 'yes' },
      { value: 'no', words: 'no' },
    ]
  return (found?.choices ?? []).map((one) => ({ value: one.key, words: one.label }))
})
watch([field, values, search], () => {
  filter.value = {
    ...(field.value && values.value.length ? { filters: { [field.value]: values.value } } : {}),
    ...(search.value.trim() ? { search: search.value.trim() } : {}),
  }
})
watch(
  () => props.kind.key,
  () => {
    field.value = ''
    values.value = []
  },
)
</script>

<template>
  <div class="flex flex-wrap items-center gap-1 border-b border-line px-[14px] py-2">
    <input
      v-model.lazy="search"
      class="input !w-32"
      :aria-label="`Only ${kind.plural.toLowerCase()} with these words`"
      placeholder="Words in the title"
    />
    <SelectBox
      :model-value="field"
      :options="[{ value: '', words: 'all' }, ...fields.map((one) => ({ value: one.key, words: one.label }))]"
      label="Only those whose"
      @update:model-value="(key) => ((field = key), (values = []))"
    />
    <SeveralBox v-if="field" v-model="values" :options="options" label="is one of" blank="any" />
  </div>
</template>

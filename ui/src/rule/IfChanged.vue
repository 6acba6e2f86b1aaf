<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import type { Kind } from '@/state/setup'
import { triggersOf, type Rule } from './model'

/** "If this record changed like that": a field of the chosen record and what it would become. */
const props = defineProps<{ kind: Kind; rule: Rule; title: string }>()
const change = defineModel<Record<string, unknown> | null>({ required: true })

const fields = computed(() =>
  props.kind.fields.filter(
    (field) =>
      !field.formula &&
      !['creator', 'made', 'changed', 'last_contact', 'stage_since'].includes(field.key) &&
      (field.key !== 'stage' || props.kind.stages.length),
  ),
)
// What the trigger watches is what one wants to see change first.
const suggested = computed(() => {
  const trigger = triggersOf(props.rule).find((one) => one.stages || one.field)
  if (!trigger) return null
  if (trigger.stages) return { key: 'stage', value: trigger.when === 'stage_entered' ? trigger.stages[0] : undefined }
  return trigger.field ? { key: trigger.field, value: trigger.to?.[0] } : null
})
const key = ref<string>('')
const value = ref<unknown>(null)
const field = computed(() => fields.value.find((one) => one.key === key.value))

function begin() {
  key.value = suggested.value?.key ?? fields.value[0]?.key ?? ''
  value.value = suggested.value?.value ?? null
}
watch([key, value], () => (change.value = key.value ? { [key.value]: value.value ?? null } : null))
function choose(next: string) {
  key.value = next
  value.value = null
}
</script>

<template>
  <div class="mt-2">
    <button v-if="!key" type="button" class="link" data-test="if-changed" @click="begin">
      What if {{ title }} changed?
    </button>
    <div v-else class="flex flex-wrap items-center gap-2">
      <span>If</span>
      <SelectBox
        :model-value="key"
        :options="fields.map((one) => ({ value: one.key, words: one.label }))"
        label="Field that would change"
        @update:model-value="choose"
      />
      <span>went to</span>
      <div class="min-w-36"><FieldInput v-if="field" v-model="value" :field="field" /></div>
      <button type="button" class="link text-sm" @click="choose('')">As it is</button>
    </div>
  </div>
</template>

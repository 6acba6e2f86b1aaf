<script setup lang="ts">
import { computed } from 'vue'
import FieldInput from '@/parts/FieldInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import type { Kind } from '@/state/setup'
import { fixable, type FormBody } from './formAsks'

/** What stands in the record without being asked; visitors see nothing of it. */
type Fixed = NonNullable<FormBody['fixed']>
const props = defineProps<{ kind: Kind; asked: string[]; wrong: Record<string, string> }>()
const fixed = defineModel<Fixed>({ required: true })
const fields = computed(() => fixable(props.kind))
const left = computed(() =>
  fields.value
    .filter((field) => !(field.key in fixed.value) && !props.asked.includes(field.key))
    .map((field) => ({ value: field.key as string | null, words: field.label })),
)
const set = (key: string, value: unknown) => (fixed.value = { ...fixed.value, [key]: value } as Fixed)
const drop = (key: string) =>
  (fixed.value = Object.fromEntries(Object.entries(fixed.value).filter(([one]) => one !== key)) as Fixed)
const rows = computed(() =>
  Object.keys(fixed.value).map((key) => ({ key, field: fields.value.find((one) => one.key === key) })),
)
</script>

<template>
  <div v-for="row in rows" :key="row.key" class="flex items-start gap-2">
    <FormRow
      v-slot="{ id }"
      class="min-w-0 flex-1"
      :label="row.field?.label ?? row.key"
      :wrong="wrong[`fixed.${row.key}`]"
      :plain="!row.field || ['choice', 'choices', 'person', 'yes_no', 'link'].includes(row.field.type)"
    >
      <FieldInput
        v-if="row.field"
        :id="id"
        :model-value="fixed[row.key] ?? null"
        :field="row.field"
        @update:model-value="set(row.key, $event)"
      />
      <p v-else class="text-muted">This field is gone.</p>
    </FormRow>
    <button
      type="button"
      class="btn btn-quiet mt-5 px-2"
      :aria-label="`Leave ${row.field?.label ?? row.key} alone`"
      @click="drop(row.key)"
    >
      ×
    </button>
  </div>
  <div v-if="left.length" class="inline-block">
    <SelectBox
      :model-value="null"
      :options="left"
      label="Fill in a field"
      blank="Fill in a field"
      @update:model-value="(key) => key && set(key, null)"
    />
  </div>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import type { Reference, Setting } from '@/rule/model'
import SettingsEditor from '@/rule/SettingsEditor.vue'
import { useSetup, type Kind } from '@/state/setup'
import type { KitTask } from './model'

/** The record that a task opens when it comes, such as a sub-ticket, and the kit that this record gets. */
const props = defineProps<{ kind: Kind; references: Reference[]; self: string | null; wrong?: string }>()
const opens = defineModel<KitTask['opens']>({ required: true })
const { setup } = useSetup()

const made = computed(() => setup.value.kinds.find((one) => one.key === opens.value?.kind))
const put = (changes: Partial<NonNullable<KitTask['opens']>>) => {
  const next = { ...opens.value!, ...changes } as Record<string, unknown>
  Object.keys(next).forEach((key) => (next[key] === undefined || next[key] === '') && delete next[key])
  opens.value = next as KitTask['opens']
}
const kinds = computed(() => [
  { value: '', words: 'nothing' },
  ...setup.value.kinds.map((one) => ({ value: one.key, words: `a ${one.label.toLowerCase()}` })),
])
const choose = (kind: string) =>
  (opens.value = kind ? { kind, values: [{ field: 'title', text: '{{ record.title }}: ' }] } : undefined)
const same = computed(() =>
  props.kind.fields
    .filter((field) => !field.formula && (!field.built_in || ['owner', 'stage', 'title'].includes(field.key)))
    .filter((field) =>
      made.value?.fields.some((one) => one.key === field.key && one.type === field.type && !one.formula),
    )
    .map((field) => ({ value: field.key, words: field.label })),
)
const links = computed(() => [
  { value: '', words: 'by a plain link' },
  ...(made.value?.fields ?? [])
    .filter((field) => field.type === 'link' && field.links_to === props.kind.key)
    .map((field) => ({ value: field.key, words: field.label })),
])
const kits = computed(() => [
  { value: '', words: 'no kit' },
  ...setup.value.kits
    .filter((one) => one.kind === opens.value?.kind && one.key !== props.self)
    .map((one) => ({ value: one.key, words: one.name })),
])
</script>

<template>
  <FormRow label="Opens a record when it comes" :wrong="wrong" plain>
    <SelectBox :model-value="opens?.kind ?? ''" :options="kinds" label="Opens" wide @update:model-value="choose" />
    <div v-if="opens && made" class="mt-2 border border-line p-2">
      <SettingsEditor
        :model-value="opens.values"
        :target="made"
        :kind="kind"
        :references="references"
        @update:model-value="(values: Setting[]) => put({ values })"
      />
      <div class="grid gap-2">
        <SeveralBox
          v-if="same.length"
          :model-value="opens.same ?? []"
          :options="same"
          label="Same as here"
          blank="nothing the same as here"
          wide
          @update:model-value="(keys) => put({ same: keys.length ? keys : undefined })"
        />
        <SelectBox
          :model-value="opens.link ?? ''"
          :options="links"
          :label="`How it leads to this ${kind.label.toLowerCase()}`"
          wide
          @update:model-value="(link) => put({ link })"
        />
        <SelectBox
          :model-value="opens.kit ?? ''"
          :options="kits"
          label="Kit of the new record"
          wide
          @update:model-value="(kit) => put({ kit })"
        />
      </div>
    </div>
  </FormRow>
</template>

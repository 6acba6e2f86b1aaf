<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'

/** A text or paper of the set-up, in the version with which the rule is published or always in the newest. */
const props = defineProps<{
  label: string
  options: Schemas['KeptName'][]
  /** What stands there where none is taken; without it one has to be. */
  none?: string
  wrong?: string
}>()
const pin = defineModel<Schemas['Pin'] | undefined>({ required: true })
const found = computed(() => props.options.find((one) => one.key === pin.value?.key))
const choices = computed(() => [
  ...(props.none ? [{ value: '', words: props.none }] : []),
  ...props.options.map((one) => ({ value: one.key, words: one.name })),
])
const choose = (key: string) => (pin.value = key ? { key } : undefined)
const older = computed(() => !!found.value && !!pin.value?.version && pin.value.version < found.value.number)
</script>

<template>
  <FormRow :label="label" :wrong="wrong" plain>
    <SelectBox :model-value="pin?.key ?? ''" :options="choices" :label="label" wide @update:model-value="choose" />
    <template v-if="pin && found">
      <label class="mt-2 flex items-center gap-2">
        <input
          type="checkbox"
          :checked="pin.newest ?? false"
          @change="
            pin = ($event.target as HTMLInputElement).checked ? { key: pin!.key, newest: true } : { key: pin!.key }
          "
        />
        Always the newest version
      </label>
      <p v-if="!pin.newest" class="mt-1 text-sm text-muted">
        <template v-if="older"
          >It stays at version {{ pin.version }}; the newest is {{ found.number }}.
          <button type="button" class="link" @click="pin = { key: pin.key }">Take the newest</button></template
        >
        <template v-else
          >It stays at version {{ pin.version ?? found.number }}, until the rule is published with another.</template
        >
      </p>
    </template>
    <p v-else-if="pin && !found" class="mt-1 text-sm text-amber">It was taken away, or is for other records.</p>
  </FormRow>
</template>

<script setup lang="ts">
import { useSetup, type Kind } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import { firstTest, type Item, type Reference } from './model'
import TestEditor from './TestEditor.vue'

/** One condition: a left side, what is asked of it, and what it is held against. */
const props = defineProps<{ references: Reference[]; kind: Kind; plain?: boolean }>()
const item = defineModel<Item>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const { setup } = useSetup()

function chooseField(path: string | undefined) {
  if (!path) return
  item.value = {
    field: path,
    test: firstTest(
      setup.value,
      props.references.find((one) => one.path === path),
      item.value.test,
    ),
  }
}
</script>

<template>
  <div class="mb-2 border border-line bg-paper p-2">
    <div class="flex items-center gap-2">
      <FieldPicker
        :model-value="item.field"
        :references="references"
        label="Field"
        class="min-w-0 flex-1"
        :formulas="!plain"
        @update:model-value="chooseField"
      />
      <button type="button" class="link text-sm" aria-label="Remove this condition" @click="emit('remove')">
        Remove
      </button>
    </div>
    <TestEditor v-model="item" :references="references" :kind="kind" />
  </div>
</template>

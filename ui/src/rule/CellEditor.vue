<script setup lang="ts">
import { nextTick, onMounted, useTemplateRef } from 'vue'
import { useSetup, type Kind } from '@/state/setup'
import { firstTest, type Item, type Reference } from './model'
import TestEditor from './TestEditor.vue'

/** The conditions of one cell, edited in place. Escape and "Done" close it. */
const props = defineProps<{ path: string; references: Reference[]; kind: Kind }>()
const items = defineModel<Item[]>({ required: true })
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const box = useTemplateRef<HTMLDivElement>('box')

const fresh = (): Item => ({
  field: props.path,
  test: firstTest(
    setup.value,
    props.references.find((one) => one.path === props.path),
  ),
})
const replace = (index: number, item: Item) =>
  (items.value = items.value.map((one, place) => (place === index ? item : one)))

onMounted(async () => {
  if (!items.value.length) items.value = [fresh()]
  await nextTick()
  box.value?.querySelector<HTMLElement>('button, input')?.focus()
})
</script>

<template>
  <div
    ref="box"
    class="w-[230px] max-w-full border border-focus bg-paper p-2"
    data-test="cell"
    @keydown.esc.stop="emit('close')"
    @click.stop
  >
    <div v-for="(item, index) in items" :key="index" :class="index ? 'mt-2 border-t border-line' : ''">
      <TestEditor
        :model-value="item"
        :references="references"
        :kind="kind"
        @update:model-value="(one) => replace(index, one)"
      />
    </div>
    <div class="mt-2 flex flex-wrap gap-3 text-sm">
      <button type="button" class="btn btn-quiet !min-h-0 !py-1" @click="emit('close')">Done</button>
      <button type="button" class="link" @click="items = [...items, fresh()]">And</button>
      <button type="button" class="link" @click="((items = []), emit('close'))">Any</button>
    </div>
  </div>
</template>

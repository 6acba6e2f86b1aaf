<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import { reachOf } from '@/lib/reach'
import FieldInput from '@/parts/FieldInput.vue'
import type { Field } from '@/state/setup'

/** One fact of a record: read, and on a press edited in its place. `save` gives the sentence that refuses it. */
const props = defineProps<{
  field: Field
  record: Schemas['Record']
  save: (field: Field, value: unknown) => Promise<string | null>
  fixed?: boolean
}>()
const editing = ref(false)
const value = ref<unknown>(null)
const wrong = ref<string | null>(null)
const busy = ref(false)
const box = useTemplateRef<HTMLElement>('box')
const reader = useTemplateRef<HTMLButtonElement>('reader')

async function edit() {
  value.value = props.record.values[props.field.key] ?? null
  wrong.value = null
  editing.value = true
  await nextTick()
  box.value?.querySelector<HTMLElement>('input, textarea, button')?.focus()
}

async function keep() {
  busy.value = true
  wrong.value = await props.save(props.field, value.value === '' ? null : value.value)
  busy.value = false
  if (wrong.value === null) await leave()
}

const reach = computed(() => reachOf(props.field.type, props.record.values[props.field.key]))
async function leave() {
  editing.value = false
  await nextTick()
  reader.value?.focus()
}
</script>

<template>
  <dt class="border-b border-line py-[5px] text-muted">{{ field.label }}</dt>
  <dd ref="box" class="min-w-0 border-b border-line py-[5px] break-words">
    <form v-if="editing" @submit.prevent="keep" @keydown.esc.stop="leave">
      <FieldInput v-model="value" :field="field" :shown="record.shown[field.key]" :invalid="wrong !== null" />
      <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
      <p v-else-if="field.help" class="mt-1 text-sm text-muted">{{ field.help }}</p>
      <div class="mt-1 flex gap-2">
        <button type="submit" class="btn btn-go !min-h-[26px] !py-[3px]" :disabled="busy">Save</button>
        <button type="button" class="btn btn-quiet !min-h-[26px] !py-[3px]" @click="leave">Cancel</button>
      </div>
    </form>
    <div v-else class="flex items-start justify-between gap-2 [overflow-wrap:anywhere]">
      <RouterLink v-if="record.links[field.key]" :to="`/record/${record.links[field.key]!.id}`">{{
        record.shown[field.key]
      }}</RouterLink>
      <a
        v-else-if="reach"
        :href="reach"
        :target="field.type === 'url' ? '_blank' : undefined"
        :rel="field.type === 'url' ? 'noreferrer' : undefined"
        >{{ record.shown[field.key] }}</a
      >
      <span v-else class="min-w-0 whitespace-pre-line" :class="record.shown[field.key] ? '' : 'text-muted'">{{
        record.shown[field.key] ?? 'not set'
      }}</span>
      <button
        v-if="!fixed"
        ref="reader"
        type="button"
        class="link shrink-0 text-sm"
        :aria-label="`Change ${field.label}`"
        @click="edit"
      >
        Change
      </button>
    </div>
    <p v-if="record.warned?.[field.key] && !editing" class="text-sm text-amber">{{ record.warned[field.key] }}</p>
  </dd>
</template>

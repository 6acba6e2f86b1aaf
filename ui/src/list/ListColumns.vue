<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Field, Kind } from '@/state/setup'
import { columnsOf } from './columns'

/** Which fields a list shows beside the title, and in which order. */
const props = defineProps<{ kind: Kind; columns: Field[] }>()
const emit = defineEmits<{ choose: [keys: string[] | null] }>()
const others = computed(() =>
  props.kind.fields.filter((field) => field.key !== 'title' && !props.columns.includes(field)),
)
const keys = computed(() => props.columns.map((field) => field.key))
const moved = computed(
  () =>
    keys.value.join() !==
    columnsOf(props.kind, '')
      .map((field) => field.key)
      .join(),
)
function move(key: string, by: number) {
  const all = keys.value.filter((one) => one !== key)
  all.splice(Math.max(1, keys.value.indexOf(key) + by), 0, key)
  emit('choose', all)
}
const drop = (key: string) =>
  emit(
    'choose',
    keys.value.filter((one) => one !== key),
  )
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="opener text-muted"
      >Columns <span aria-hidden="true" class="text-[10px] text-muted">▾</span></PopoverButton
    >
    <PopoverPanel
      class="absolute right-0 z-30 mt-1 max-h-[70vh] w-72 overflow-y-auto rounded-xs border border-pine bg-paper p-2"
    >
      <ol aria-label="Columns that are shown">
        <li v-for="(field, index) in columns" :key="field.key" class="flex items-center gap-1 py-[2px]">
          <span class="mr-auto">{{ field.label }}</span>
          <template v-if="field.key !== 'title'">
            <button
              type="button"
              class="step"
              :disabled="index === 1"
              :aria-label="`${field.label} further left`"
              @click="move(field.key, -1)"
            >
              ↑
            </button>
            <button
              type="button"
              class="step"
              :disabled="index === columns.length - 1"
              :aria-label="`${field.label} further right`"
              @click="move(field.key, 1)"
            >
              ↓
            </button>
            <button type="button" class="step" :aria-label="`Leave out ${field.label}`" @click="drop(field.key)">
              ×
            </button>
          </template>
          <span v-else class="text-muted">always</span>
        </li>
      </ol>
      <p v-if="others.length" class="mt-2 mb-1 border-t border-line pt-2 text-muted">Put in</p>
      <button
        v-for="field in others"
        :key="field.key"
        type="button"
        class="block w-full px-1 py-[5px] text-left hover:bg-band-2"
        @click="emit('choose', [...keys, field.key])"
      >
        {{ field.label }}
      </button>
      <button v-if="moved" type="button" class="link mt-2" @click="emit('choose', null)">As it was at first</button>
    </PopoverPanel>
  </Popover>
</template>

<style scoped>
.step {
  min-width: 26px;
  min-height: 26px;
  border: 1px solid var(--color-line);
}
.step:disabled {
  opacity: 0.35;
}
</style>

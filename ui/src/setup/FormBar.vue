<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'

/** The end of a form's sheet: publish, save, close it to visitors, take it away, and the versions that there were. */
const props = defineProps<{
  sheet: Schemas['FormSheet']
  ready: boolean
  typed: boolean
  busy: boolean
  anyway: boolean
}>()
const emit = defineEmits<{ publish: []; back: []; open: [open: boolean]; away: []; look: [number: number] }>()
const { nameOf } = useSetup()
const { moment } = useDates()
const next = computed(() => (props.sheet.versions[0]?.number ?? 0) + 1)
const versions = computed(() =>
  props.sheet.versions.map((one) => ({
    value: one.number as number | null,
    words: `Version ${one.number}, ${nameOf(one.by)}, ${moment(one.at)}`,
  })),
)
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <button type="button" class="btn btn-go" :aria-busy="busy" :disabled="!ready" @click="emit('publish')">
      Publish as version {{ next }}
    </button>
    <button type="submit" class="btn" :aria-busy="busy" :disabled="!typed">Save the draft</button>
    <button type="button" class="btn btn-quiet" @click="emit('back')">Back</button>
    <button
      v-if="sheet.number"
      type="button"
      class="btn btn-quiet ml-auto"
      :aria-busy="busy"
      @click="emit('open', sheet.closed)"
    >
      {{ sheet.closed ? 'Open it again' : 'Close it' }}
    </button>
    <button
      type="button"
      class="btn btn-quiet"
      :class="sheet.number ? '' : 'ml-auto'"
      :aria-busy="busy"
      @click="emit('away')"
    >
      {{ anyway ? 'Take it away all the same' : 'Take it away' }}
    </button>
  </div>
  <div v-if="versions.length > 1" class="mt-3 inline-block">
    <SelectBox
      :model-value="null"
      :options="versions"
      label="Bring back an older version"
      blank="Bring back an older version"
      @update:model-value="(number) => number && emit('look', number)"
    />
  </div>
</template>

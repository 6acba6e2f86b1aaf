<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'

/** The end of the form of a text or paper: save, take away, and the versions that there are. */
const props = defineProps<{
  version: Schemas['KeptVersion'] | null
  busy: boolean
  anyway: boolean
  wrong?: string
}>()
const emit = defineEmits<{ save: []; away: []; close: []; look: [number: number] }>()
const { nameOf } = useSetup()
const { moment } = useDates()
const newest = computed(() => props.version?.versions[0]?.number)
const versions = computed(() =>
  (props.version?.versions ?? []).map((one) => ({
    value: one.number,
    words: `Version ${one.number}, ${nameOf(one.by)}, ${moment(one.at)}`,
  })),
)
</script>

<template>
  <p v-if="wrong" class="mb-3 text-red" role="alert">{{ wrong }}</p>
  <p v-if="version && version.number !== newest" class="mb-3 border border-amber bg-amber-bg px-3 py-2" role="status">
    This is version {{ version.number }} as it was. Saving it makes it the newest again.
  </p>
  <div class="flex flex-wrap items-center gap-2">
    <button type="button" class="btn btn-go" :aria-busy="busy" @click="emit('save')">
      {{ version ? `Save as version ${(newest ?? 0) + 1}` : 'Add it' }}
    </button>
    <button type="button" class="btn btn-quiet" @click="emit('close')">{{ version ? 'Back' : 'Not now' }}</button>
    <button v-if="version" type="button" class="btn btn-quiet ml-auto" :aria-busy="busy" @click="emit('away')">
      {{ anyway ? 'Take it away all the same' : 'Take it away' }}
    </button>
  </div>
  <div v-if="version && versions.length > 1" class="mt-3">
    <SelectBox
      :model-value="version.number"
      :options="versions"
      label="Version"
      wide
      @update:model-value="(number) => emit('look', number)"
    />
  </div>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import ClockInput from '@/parts/ClockInput.vue'

/** The hours of a week, day by day; a day without a tick is off. */
const hours = defineModel<Schemas['WeekHours']>({ required: true })
const NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

const days = computed(() =>
  NAMES.map((name, at) => ({ name, day: at + 1, span: hours.value.find((one) => one.day === at + 1) ?? null })),
)
const usual = () => hours.value.at(-1) ?? { day: 1, from: '09:00', to: '17:00' }

function write(day: number, span: { from: string; to: string } | null) {
  const rest = hours.value.filter((one) => one.day !== day)
  hours.value = (span ? [...rest, { day, from: span.from, to: span.to }] : rest).sort((one, two) => one.day - two.day)
}
</script>

<template>
  <table class="ledger w-full border border-line">
    <tbody>
      <tr v-for="{ name, day, span } in days" :key="day" class="border-t border-line">
        <td class="w-30 !align-middle sm:w-36">
          <label class="flex items-center gap-2 py-[3px]" :class="span ? 'font-semibold' : 'text-muted'">
            <input
              type="checkbox"
              :checked="!!span"
              @change="write(day, ($event.target as HTMLInputElement).checked ? usual() : null)"
            />{{ name }}
          </label>
        </td>
        <td class="h-11 !align-middle">
          <span v-if="span" class="flex items-center gap-1 sm:gap-2">
            <ClockInput
              :model-value="span.from"
              :label="`${name} from`"
              @update:model-value="(from) => write(day, { ...span!, from })"
            />
            to
            <ClockInput
              :model-value="span.to"
              :label="`${name} to`"
              @update:model-value="(to) => write(day, { ...span!, to })"
            />
          </span>
          <span v-else class="text-muted">off</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

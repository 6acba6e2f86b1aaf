<script setup lang="ts">
import { computed } from 'vue'

/** Twelve months on one page: the days on which nobody works, and below each month why. */
const props = defineProps<{ year: number; days: { date: string; why: string; weekly: boolean }[]; today: string }>()
const MONTHS = 'January February March April May June July August September October November December'.split(' ')
const off = computed(() => new Map(props.days.map((day) => [day.date, day])))

const months = computed(() =>
  MONTHS.map((name, at) => {
    const first = new Date(Date.UTC(props.year, at, 1))
    const count = new Date(Date.UTC(props.year, at + 1, 0)).getUTCDate()
    const days = Array.from({ length: count }, (_, index) => {
      const date = new Date(Date.UTC(props.year, at, index + 1)).toISOString().slice(0, 10)
      const day = off.value.get(date)
      const named = day && !/^(Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day$/.test(day.why)
      return { number: index + 1, date, why: day?.why, state: named ? 'named' : day?.weekly ? 'weekly' : 'work' }
    })
    return { name, blanks: (first.getUTCDay() + 6) % 7, days, whys: whys(days) }
  }),
)

/** Days in a row that are off for the same reason stand together: "24–31 Workshop shut". */
function whys(days: { number: number; why?: string; state: string }[]) {
  const rows: { from: number; to: number; why: string }[] = []
  for (const day of days) {
    if (day.state !== 'named') continue
    const last = rows.at(-1)
    if (last && last.why === day.why && last.to === day.number - 1) last.to = day.number
    else rows.push({ from: day.number, to: day.number, why: day.why! })
  }
  return rows
}
</script>

<template>
  <div class="grid grid-cols-2 gap-x-5 gap-y-5 sm:grid-cols-3 xl:grid-cols-4">
    <section v-for="month in months" :key="month.name" :aria-label="`${month.name} ${year}`" class="min-w-0">
      <h4 class="mb-1 font-semibold">{{ month.name }}</h4>
      <div class="grid grid-cols-7 gap-px text-center font-mono text-xs" aria-hidden="true">
        <span v-for="blank in month.blanks" :key="`b${blank}`" />
        <span
          v-for="day in month.days"
          :key="day.date"
          :data-state="day.state"
          :title="day.why"
          class="py-[2px]"
          :class="[
            day.state === 'named'
              ? 'bg-amber-bg font-bold text-amber'
              : day.state === 'weekly'
                ? 'bg-band text-muted'
                : '',
            day.date === today ? 'outline outline-pine' : '',
          ]"
          >{{ day.number }}</span
        >
      </div>
      <ul v-if="month.whys.length" class="mt-1 text-sm break-words">
        <li v-for="row in month.whys" :key="row.from">
          <span class="font-mono text-xs">{{ row.from === row.to ? row.from : `${row.from}–${row.to}` }}</span>
          {{ row.why }}
        </li>
      </ul>
    </section>
  </div>
</template>

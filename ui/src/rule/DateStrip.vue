<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import { addDays, daysBetween, useDates } from '@/lib/dates'

/** The days on which the tasks of a plan come due, with the days off between and the dates of the record. */
const props = defineProps<{
  plan: {
    tasks: { title: string; due?: Schemas['DueDate'] | null; number: number; row?: string }[]
    strip: Schemas['Strip']
  }
}>()
const { day } = useDates()
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
// On a narrow strip the words stand over their bar.
const narrow = computed(() => width.value < 520)
const line = computed(() => (narrow.value ? 27 : 16))
const HEAD = 20

const strip = computed(() => props.plan.strip)
const days = computed(() => Math.max(1, daysBetween(strip.value.from, strip.value.to)))
const x = (on: string, minutes = 0) => ((daysBetween(strip.value.from, on) + minutes / 1440) / days.value) * width.value
const step = computed(() => width.value / days.value)
const dated = computed(() => props.plan.tasks.filter((task) => task.due))
const height = computed(() => HEAD + line.value * dated.value.length + 22)
const mondays = computed(() => {
  const all = Array.from({ length: days.value + 1 }, (_, index) => addDays(strip.value.from, index))
  const found = all.filter((one) => new Date(`${one}T00:00:00Z`).getUTCDay() === 1)
  const every = Math.max(1, Math.ceil(90 / (step.value * 7 || 1)))
  return found.filter((_, index) => index % every === 0)
})
const minutes = (clock: string | null) => (clock ? Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3)) : 1200)
const end = (task: (typeof dated.value)[number]) => x(task.due!.on, minutes(task.due!.at))
// What is due before the line of the trigger has its words behind that line.
const wordsAt = (task: (typeof dated.value)[number]) => Math.max(end(task), x(strip.value.today, 720))
const over = (task: (typeof dated.value)[number]) =>
  Math.max(4, Math.min(x(strip.value.today, 720), end(task), width.value - task.title.length * 6.2 - 6))
const flips = (task: (typeof dated.value)[number]) => wordsAt(task) > width.value - task.title.length * 6.2 - 12
</script>

<template>
  <div ref="box" class="border border-line bg-paper">
    <svg
      v-if="width"
      :width="width"
      :height="height"
      class="block"
      font-size="11"
      role="img"
      :aria-label="`Dates of ${dated.length} tasks`"
    >
      <rect
        v-for="off in strip.days_off"
        :key="off"
        :x="x(off)"
        y="0"
        :width="step"
        :height="height"
        class="fill-band"
      />
      <g v-for="monday in mondays" :key="monday">
        <line :x1="x(monday)" :x2="x(monday)" y1="0" :y2="height" class="stroke-line" />
        <text :x="x(monday) + 4" y="13" class="fill-muted">{{ day(monday) }}</text>
      </g>
      <g v-for="mark in strip.marks" :key="mark.label">
        <line :x1="x(mark.on, 720)" :x2="x(mark.on, 720)" y1="0" :y2="height" class="stroke-red" stroke-width="1.5" />
        <text :x="x(mark.on, 720) + 4" :y="height - 7" class="fill-red" font-weight="600">{{ mark.label }}</text>
      </g>
      <line
        :x1="x(strip.today, 720)"
        :x2="x(strip.today, 720)"
        y1="0"
        :y2="height"
        class="stroke-pine"
        stroke-width="1.5"
      />
      <text :x="x(strip.today, 720) + 4" :y="height - 7" class="fill-pine" font-weight="600">trigger</text>
      <g v-for="(task, index) in dated" :key="`${task.row}${task.number}`">
        <rect
          :x="Math.min(x(strip.today, 720), end(task))"
          :y="HEAD + index * line + (narrow ? 16 : 3)"
          :width="Math.max(3, Math.abs(end(task) - x(strip.today, 720)))"
          height="5"
          class="fill-pine-2"
        />
        <text v-if="narrow" :x="over(task)" :y="HEAD + index * line + 12" class="fill-ink">{{ task.title }}</text>
        <text
          v-else
          :x="flips(task) ? end(task) - 6 : wordsAt(task) + 6"
          :y="HEAD + index * line + (flips(task) ? 18 : 9)"
          :text-anchor="flips(task) ? 'end' : 'start'"
          class="fill-ink"
        >
          {{ task.title }}
        </text>
      </g>
    </svg>
  </div>
</template>

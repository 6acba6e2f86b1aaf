<script setup lang="ts">
import { computed } from 'vue'
import { drawingOf, type Line, type Node } from './layout'
import type { Kit } from './model'

/** How the kit runs, drawn from its table. Pressing a task shows it. */
const props = defineProps<{ kit: Kit; chosen: string | null; trouble: Set<string>; states?: Record<string, string> }>()
const emit = defineEmits<{ choose: [key: string] }>()
const drawing = computed(() => drawingOf(props.kit))

const diamond = ({ x, y, width, height }: Node) =>
  `${x - width / 2},${y} ${x},${y - height / 2} ${x + width / 2},${y} ${x},${y + height / 2}`
const path = (line: Line) => `M${line.points.map((point) => `${point.x} ${point.y}`).join('L')}`
</script>

<template>
  <div class="overflow-x-auto">
    <svg
      :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
      :style="{ width: `${drawing.width}px`, minWidth: `${drawing.width * 0.7}px` }"
      font-size="11.5"
      class="mx-auto block max-w-full"
      role="group"
      aria-label="How the kit runs, from top to bottom"
    >
      <defs>
        <marker id="kit-arrow" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
          <path d="M0 0L8 4L0 8z" class="fill-pine" />
        </marker>
      </defs>
      <path
        v-for="line in drawing.lines"
        :key="`${line.from}>${line.to}>${line.answer}`"
        :d="path(line)"
        fill="none"
        class="stroke-pine"
        marker-end="url(#kit-arrow)"
      />
      <g
        v-for="node in drawing.nodes"
        :key="node.key"
        :role="node.key ? 'button' : undefined"
        :tabindex="node.key ? -1 : undefined"
        :aria-label="node.key ? node.label : undefined"
        :class="node.key ? 'cursor-pointer' : ''"
        @click="node.key && emit('choose', node.key)"
      >
        <circle v-if="node.shape === 'start'" :cx="node.x" :cy="node.y" r="6" class="fill-pine" />
        <template v-else>
          <polygon
            v-if="node.shape === 'choice'"
            :points="diamond(node)"
            :class="[
              node.key === chosen ? 'fill-chosen' : 'fill-paper',
              trouble.has(node.key) ? 'stroke-amber' : 'stroke-pine',
            ]"
            :stroke-width="node.key === chosen ? 2 : 1"
            :stroke-dasharray="states?.[node.key] === 'not_needed' ? '3 3' : undefined"
          />
          <rect
            v-else
            :x="node.x - node.width / 2"
            :y="node.y - node.height / 2"
            :width="node.width"
            :height="node.height"
            :class="[
              node.key === chosen ? 'fill-chosen' : 'fill-paper',
              trouble.has(node.key) ? 'stroke-amber' : 'stroke-pine',
            ]"
            :stroke-width="node.key === chosen ? 2 : 1"
            :stroke-dasharray="states?.[node.key] === 'not_needed' ? '3 3' : undefined"
          />
          <text :x="node.x" :y="node.y + 4" text-anchor="middle" class="fill-ink">{{ node.label }}</text>
        </template>
      </g>
      <text
        v-for="line in drawing.lines.filter((one) => one.words)"
        :key="`words ${line.from}>${line.to}>${line.answer}`"
        :x="line.words!.x"
        :y="line.words!.y + 4"
        text-anchor="middle"
        class="fill-muted"
      >
        {{ line.answer }}
      </text>
    </svg>
  </div>
</template>

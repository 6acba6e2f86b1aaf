<script setup lang="ts">
import { computed } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import type { Kind } from '@/state/setup'
import ConditionEditor from './ConditionEditor.vue'
import { groupOf, isGroup, itemsOf, modeOf, type Group, type Item, type Mode, type Reference } from './model'

/** Conditions that hold together, nested as deep as a rule may go. */
const props = defineProps<{ references: Reference[]; kind: Kind; plain?: boolean; depth?: number }>()
const group = defineModel<Group>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const MAX_DEPTH = 6

const mode = computed(() => modeOf(group.value))
const items = computed(() => itemsOf(group.value))
const deep = computed(() => props.depth ?? 1)

const put = (all: Item[]) => (group.value = groupOf(mode.value, all))
const replace = (index: number, item: Item) => put(items.value.map((one, place) => (place === index ? item : one)))
const remove = (index: number) => put(items.value.filter((_, place) => place !== index))
const addCondition = () => put([...items.value, { field: '', test: 'is_filled_in' }])
const addGroup = () => put([...items.value, groupOf(mode.value === 'any' ? 'all' : 'any', []) as Item])
const words: Record<Mode, string> = { all: 'All of these hold', any: 'Any of these holds', none: 'None of these holds' }
</script>

<template>
  <div :class="deep > 1 ? 'mb-2 border-l-2 border-pine pl-2' : ''">
    <div class="mb-2 flex items-center justify-between gap-2">
      <SelectBox
        :model-value="mode"
        :options="(['all', 'any', 'none'] as Mode[]).map((one) => ({ value: one, words: words[one] }))"
        label="How they hold together"
        @update:model-value="(one) => (group = groupOf(one, items))"
      />
      <button v-if="deep > 1" type="button" class="link text-sm" @click="emit('remove')">Remove the group</button>
    </div>
    <template v-for="(item, index) in items" :key="index">
      <GroupEditor
        v-if="isGroup(item)"
        :model-value="item as Group"
        :references="references"
        :kind="kind"
        :plain="plain"
        :depth="deep + 1"
        @update:model-value="(one: Group) => replace(index, one as Item)"
        @remove="remove(index)"
      />
      <ConditionEditor
        v-else
        :model-value="item"
        :references="references"
        :kind="kind"
        :plain="plain"
        @update:model-value="(one) => replace(index, one)"
        @remove="remove(index)"
      />
    </template>
    <p v-if="!items.length" class="mb-2 text-muted">
      {{ deep === 1 ? 'No condition: this always holds.' : 'Nothing in this group yet.' }}
    </p>
    <div class="flex flex-wrap gap-3">
      <button type="button" class="link" @click="addCondition">Add a condition</button>
      <button v-if="deep < MAX_DEPTH" type="button" class="link" @click="addGroup">Add a group</button>
    </div>
  </div>
</template>

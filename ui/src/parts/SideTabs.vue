<script setup lang="ts" generic="Key extends string">
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/vue'
import { computed, nextTick, useTemplateRef } from 'vue'

/** What stands beside a sheet, one thing at a time. The arrow keys go from tab to tab. */
const props = defineProps<{
  /** `count`: how many things it has to say; `open`: that there is something to look at; `apart`: at the far end. */
  tabs: { key: Key; words: string; count?: number; open?: string; apart?: boolean }[]
}>()
const chosen = defineModel<Key>({ required: true })
defineSlots<{ default(): unknown }>()

const index = computed(() => props.tabs.findIndex((tab) => tab.key === chosen.value))
// Which tab is chosen is lost to the group while tabs come and go, so each set of them has a group of its own.
const set = computed(() => props.tabs.map((tab) => tab.key).join(' '))
const list = useTemplateRef<{ $el: HTMLElement }>('list')
async function choose(at: number) {
  const tab = props.tabs[at]
  if (!tab) return
  chosen.value = tab.key
  await nextTick()
  list.value?.$el.querySelector<HTMLElement>('[aria-selected="true"]')?.focus()
}
</script>

<template>
  <TabGroup :key="set" :selected-index="Math.max(0, index)" @change="choose">
    <TabList ref="list" class="flex flex-wrap border-b border-line px-[14px]">
      <Tab
        v-for="tab in tabs"
        :key="tab.key"
        class="border-b-[3px] px-[10px] pt-[10px] pb-2 font-medium"
        :class="[tab.key === chosen ? 'border-focus font-semibold' : 'border-transparent', { 'ml-auto': tab.apart }]"
      >
        {{ tab.words }} <span v-if="tab.count" class="flag bg-amber-bg text-amber">{{ tab.count }}</span><span
          v-else-if="tab.open"
          class="text-amber"
          :title="tab.open"
          >◇</span
        >
      </Tab>
    </TabList>
    <TabPanels>
      <TabPanel v-for="tab in tabs" :key="tab.key" tabindex="-1"><slot /></TabPanel>
    </TabPanels>
  </TabGroup>
</template>

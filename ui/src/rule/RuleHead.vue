<script setup lang="ts">
import { computed } from 'vue'
import { counted } from '@/lib/words'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { itemsOf, modeOf, useRuleWords, type Place, type Rule } from './model'
import FuseLine from './FuseLine.vue'
import TriggerLine from './TriggerLine.vue'

/** What stands above the table: trigger, conditions common to all branches, and which branches run. */
const props = defineProps<{ kind: Kind; fixed: boolean }>()
const rule = defineModel<Rule>({ required: true })
const emit = defineEmits<{ go: [place: Place] }>()
const { setup } = useSetup()

const words = computed(() => useRuleWords(setup.value, props.kind))
const branchingWords: Record<string, string> = {
  first: 'First branch that matches',
  every: 'Every branch that matches',
}
const summary = computed(
  () =>
    `${counted(rule.value.branches.length, 'branch', 'branches')}${rule.value.otherwise ? ' and an otherwise' : ''}`,
)
</script>

<template>
  <div class="grid items-start gap-x-[10px] gap-y-3 sm:grid-cols-[92px_1fr]">
    <span class="lab sm:pt-2 sm:text-right">Trigger</span>
    <TriggerLine v-model="rule" :kind="kind" :disabled="fixed" />
    <span class="lab sm:pt-2 sm:text-right">Only if {{ modeOf(rule.only_if) }}</span>
    <div class="flex min-h-[30px] flex-wrap items-center gap-[6px]">
      <button
        v-for="(item, index) in itemsOf(rule.only_if)"
        :key="index"
        type="button"
        class="opener disabled:cursor-default"
        :disabled="fixed"
        @click="emit('go', { what: 'only_if' })"
      >
        <template v-if="item.field"
          ><b>{{ words.label(item.field) }}</b> {{ words.phrase(item) }}</template
        >
        <template v-else>{{ words.sentence(item) }}</template>
      </button>
      <button v-if="!fixed" type="button" class="link" @click="emit('go', { what: 'only_if' })">
        {{ itemsOf(rule.only_if).length ? 'Change the conditions' : 'Set conditions' }}
      </button>
      <span v-else-if="!itemsOf(rule.only_if).length" class="pt-1 text-muted">always</span>
    </div>
    <span class="lab sm:pt-2 sm:text-right">Branches</span>
    <div class="flex flex-wrap items-center gap-2">
      <SelectBox
        :model-value="rule.branching ?? 'first'"
        :options="setup.vocabulary.branching.map((one) => ({ value: one, words: branchingWords[one] ?? one }))"
        label="Which branches run"
        :disabled="fixed"
        @update:model-value="(branching) => (rule = { ...rule, branching })"
      />
      <span class="text-muted">· {{ summary }}</span>
      <FuseLine v-model="rule" class="ml-auto" :disabled="fixed" />
    </div>
  </div>
</template>

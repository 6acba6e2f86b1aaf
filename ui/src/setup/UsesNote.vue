<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { counted } from '@/lib/words'

/** A plain warning of which rules lean on what is about to be changed. `of` is written as in "field deal value". */
const props = defineProps<{ of: string; doing: string }>()
const { data } = useLoaded(
  () => answerOf(api.GET('/api/setup/uses', { params: { query: { of: props.of } } })),
  [() => props.of],
)
const rules = computed(() => data.value?.rules ?? [])
const FEW = 5
const all = ref(false)
const noun = computed(() => (rules.value.some((one) => one.what === 'kit') ? 'rule or kit' : 'rule'))
</script>

<template>
  <div
    v-if="rules.length"
    class="mb-3 border border-amber bg-amber-bg px-3 py-2 text-amber"
    role="status"
    data-test="uses"
  >
    <b
      >{{ counted(rules.length, noun, noun === 'rule' ? 'rules' : 'rules and kits') }}
      {{ rules.length === 1 ? 'leans' : 'lean' }} on it.</b
    >
    {{ doing }}
    <ul class="mt-1">
      <li v-for="(rule, index) in all ? rules : rules.slice(0, FEW)" :key="index">
        <RouterLink v-if="rule.id" :to="`/${rule.what}s/${rule.id}`" class="underline">{{
          rule.name
        }}</RouterLink><template v-else>{{ rule.name }}</template
        ><template v-if="rule.id">, {{ rule.state }}</template>
      </li>
    </ul>
    <button v-if="!all && rules.length > FEW" type="button" class="link mt-1" @click="all = true">
      and {{ rules.length - FEW }} more
    </button>
  </div>
  <p v-else-if="data" class="mb-3 text-sm text-muted">No rule and no kit leans on it.</p>
</template>

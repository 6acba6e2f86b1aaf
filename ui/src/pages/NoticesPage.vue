<script setup lang="ts">
import { computed, ref } from 'vue'
import SelectBox from '@/parts/SelectBox.vue'
import ToldList from '@/bell/ToldList.vue'
import { useBell } from '@/bell/useBell'

/** All that the person has been told. */
const rule = ref<number | null>(null)
const { notices, unread, next, rules, load, read } = useBell(rule)
const chosen = computed({ get: () => rule.value ?? 0, set: (id) => (rule.value = id || null) })
const options = computed(() => [
  { value: 0, words: 'everything' },
  ...rules.value.map((one) => ({ value: one.id, words: one.name })),
])
</script>

<template>
  <div class="flex items-center gap-3 border-b border-pine bg-paper px-3 py-3 sm:px-5">
    <h1 class="text-xl font-bold">What you were told</h1>
    <span class="text-muted">{{ unread ? `${unread} unread` : 'all read' }}</span>
    <button v-if="unread" type="button" class="btn btn-quiet ml-auto" @click="read(null)">Mark all as read</button>
  </div>
  <div class="mx-auto w-full max-w-3xl p-3">
    <div v-if="rules.length" class="mb-3 flex items-center gap-2">
      <span class="text-muted">Told by</span><SelectBox v-model="chosen" :options="options" label="Told by" />
    </div>
    <ToldList class="border border-line bg-paper" :notices="notices" @open="(notice) => read([notice.id])" />
    <button v-if="next" type="button" class="btn mt-3" @click="load(next)">Show earlier</button>
  </div>
</template>

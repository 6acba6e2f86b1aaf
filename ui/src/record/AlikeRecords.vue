<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answerOf, api } from '@/api/client'
import type { Kind } from '@/state/setup'

/** Says while a record is typed which others may be the same; whoever makes it all the same is not stopped. */
const props = defineProps<{ kind: Kind; values: Record<string, unknown> }>()
const alike = ref<{ id: number; title: string; why: string }[]>([])
const telling = computed(() =>
  Object.fromEntries(
    props.kind.fields
      .filter((field) => field.key === 'title' || ['email', 'phone'].includes(field.type))
      .map((field) => [field.key, props.values[field.key]] as const)
      .filter((pair): pair is [string, string] => typeof pair[1] === 'string' && pair[1].trim().length > 2),
  ),
)
const asked = refDebounced(
  computed(() => JSON.stringify([props.kind.key, telling.value])),
  400,
)
watch(asked, async (text) => {
  const [kind, values] = JSON.parse(text) as [string, Record<string, string>]
  if (!Object.keys(values).length) {
    alike.value = []
    return
  }
  const answer = await answerOf(api.POST('/api/records/alike', { body: { kind, values } })).catch(() => null)
  if (answer && text === asked.value) alike.value = answer.alike
})
</script>

<template>
  <div v-if="alike.length" class="mb-3 border border-amber bg-amber-bg px-3 py-2" role="status">
    <p class="font-semibold">This may be there already:</p>
    <ul>
      <li v-for="one in alike" :key="one.id" class="py-1">
        <RouterLink class="link underline" :to="`/record/${one.id}`">{{ one.title }}</RouterLink>
        has {{ one.why }}
      </li>
    </ul>
  </div>
</template>

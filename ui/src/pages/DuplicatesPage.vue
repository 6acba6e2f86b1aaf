<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { useDates } from '@/lib/dates'
import { useNotices } from '@/lib/useNotices'
import PageHead from '@/parts/PageHead.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** Records of a kind that may be the same, in groups: to be merged, or put away as not the same. */
type Group = { why: string; records: Schemas['Record'][] }
const route = useRoute()
const router = useRouter()
const { setup, kindOf } = useSetup()
const { attempt } = useNotices()
const { moment } = useDates()
const kindKey = computed(() => String(route.params.kind))
const kind = computed(() => kindOf(kindKey.value))
const kinds = computed(() =>
  setup.value.kinds.filter((one) => one.family !== 'entry').map((one) => ({ value: one.key, words: one.plural })),
)
const groups = ref<Group[]>([])
const next = ref<string | null>(null)
const read = ref(false)
const trouble = ref('')
async function load(after?: string | null) {
  trouble.value = ''
  try {
    const query = { kind: kindKey.value, ...(after ? { after } : {}) }
    const page = await answerOf(api.GET('/api/duplicates', { params: { query } }))
    groups.value = after ? [...groups.value, ...page.groups] : page.groups
    next.value = page.next
    read.value = true
  } catch (problem) {
    trouble.value = sentenceOf(problem)
  }
}
watch(kindKey, () => ((read.value = false), (groups.value = []), void load()), { immediate: true })

/** What tells such records apart: their facts, the shortest first to be seen. */
const facts = computed(
  () =>
    kind.value?.fields
      .filter((field) => ['email', 'phone'].includes(field.type) || field.key === 'owner')
      .slice(0, 4) ?? [],
)
const mayMerge = (group: Group) => group.records.every((record) => record.may_change)
const merge = (group: Group) => router.push(`/merge?records=${group.records.map((record) => record.id).join(',')}`)
async function putAway(group: Group) {
  const records = group.records.map((record) => record.id)
  if (await attempt(() => answerOf(api.POST('/api/duplicates', { body: { records } })), 'They are not shown any more.'))
    groups.value = groups.value.filter((one) => one !== group)
}
</script>

<template>
  <PageHead>
    <template #title><h1 class="mr-1 text-xl font-bold">Duplicates</h1></template>
    <template #default>
      <SelectBox
        :model-value="kindKey"
        :options="kinds"
        label="Kind of record"
        strong
        @update:model-value="(key) => router.push(`/duplicates/${key}`)"
      />
      <span class="text-muted">With the same e-mail, last digits of a phone, or words in the title.</span>
    </template>
  </PageHead>
  <TroubleBox v-if="trouble" :text="trouble" class="m-5" @retry="load()" />
  <div v-else class="p-3 sm:p-5">
    <section
      v-for="group in groups"
      :key="group.why + group.records.map((record) => record.id).join()"
      class="mb-4 border border-line bg-paper"
      :aria-label="group.records.map((record) => record.title).join(' and ')"
    >
      <div class="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2">
        <b class="mr-auto font-semibold">{{ group.records.length }} with {{ group.why }}</b>
        <template v-if="mayMerge(group)">
          <button type="button" class="btn" @click="merge(group)">Merge…</button>
          <button type="button" class="btn btn-quiet" @click="putAway(group)">Not the same</button>
        </template>
      </div>
      <div class="overflow-x-auto">
        <table class="ledger">
          <thead>
            <tr>
              <th>Title</th>
              <th v-for="field in facts" :key="field.key">{{ field.label }}</th>
              <th>Made</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="record in group.records" :key="record.id">
              <td>
                <RouterLink :to="`/record/${record.id}`" class="font-semibold">{{ record.title }}</RouterLink>
              </td>
              <td v-for="field in facts" :key="field.key">{{ record.shown[field.key] ?? '' }}</td>
              <td class="whitespace-nowrap">{{ moment(String(record.values.made)) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
    <div v-if="read && !groups.length" class="p-3">
      <h2 class="mb-1 text-lg font-semibold">No {{ kind?.plural.toLowerCase() }} look the same</h2>
      <p class="text-muted">Those that you put away as not the same are left out until another like them comes.</p>
    </div>
    <button v-if="next" type="button" class="btn" @click="load(next)">Look for more</button>
  </div>
</template>

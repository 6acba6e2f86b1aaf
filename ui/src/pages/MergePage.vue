<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { counted } from '@/lib/words'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'

/** Records beside each other, field by field, to be merged into one of them. */
const route = useRoute()
const router = useRouter()
const { kindOf } = useSetup()
const { attempt } = useNotices()
const asked = computed(() => (typeof route.query.records === 'string' ? route.query.records : ''))
const { data, error, reload } = useLoaded(
  () => answerOf(api.GET('/api/merges/plan', { params: { query: { records: asked.value } } })),
  [asked],
)
type Choice = number | 'together'
const choices = reactive<Record<string, Choice>>({})
watch(data, (plan) => {
  for (const key of Object.keys(choices)) delete choices[key]
  plan?.rows.forEach((row) => (choices[row.field] = row.choice))
})
const kind = computed(() => (data.value ? kindOf(data.value.records[0]!.kind) : undefined))
const stays = computed(() => data.value?.records[0])
/** Another stays: it comes first, and what is proposed is worked out anew. */
function keep(id: number) {
  const ids = asked.value.split(',').map(Number)
  void router.replace({ query: { records: [id, ...ids.filter((one) => one !== id)].join(',') } })
}
const allFrom = (id: number) =>
  data.value?.rows.forEach((row) => {
    const filled = data.value!.records.find((record) => record.id === id)?.shown[row.field]
    if (filled) choices[row.field] = id
  })
const along = computed(() => {
  if (!data.value) return ''
  const { notes, tasks, files, links, messages, kits } = data.value.along
  const all = [
    notes && counted(notes, 'note or call', 'notes and calls'),
    tasks && counted(tasks, 'task'),
    files && counted(files, 'file'),
    links && `${counted(links, 'record')} that ${links === 1 ? 'leads' : 'lead'} there`,
    messages && counted(messages, 'message'),
    kits && `${counted(kits, 'kit')} in use`,
  ].filter(Boolean)
  return all.length
    ? `With their history come ${all.join(', ')}.`
    : 'Their history comes along; nothing else hangs on them.'
})
const mayMerge = computed(() => !!data.value?.records.every((one, i) => (i === 0 ? one.may_change : one.may_take_away)))
const busy = ref(false)
async function merge() {
  busy.value = true
  const records = data.value!.records.map((record) => record.id)
  const chosen = Object.fromEntries(
    data.value!.rows.filter((row) => choices[row.field] !== row.choice).map((row) => [row.field, choices[row.field]!]),
  )
  const done = await attempt(
    () => answerOf(api.POST('/api/merges', { body: { records, choices: chosen } })),
    `They are one: “${stays.value!.title}”.`,
  )
  busy.value = false
  if (done) await router.push(`/record/${records[0]}`)
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 border-b border-pine bg-paper px-3 py-2 sm:px-5 sm:py-3">
    <h1 class="text-xl font-bold">Merge {{ kind ? kind.plural.toLowerCase() : 'records' }}</h1>
    <span class="text-muted">One stays; all that hangs on the others hangs on it. They can be parted for 30 days.</span>
  </div>
  <TroubleBox v-if="error && !data" :text="error" class="m-5" @retry="reload" />
  <form v-else-if="data" class="p-3 sm:p-5" @submit.prevent="merge">
    <div class="overflow-x-auto">
      <table class="ledger min-w-[560px]">
        <thead>
          <tr>
            <th>Field</th>
            <th v-for="(record, index) in data.records" :key="record.id">
              <RouterLink :to="`/record/${record.id}`" class="inline-block py-[6px]">{{ record.title }}</RouterLink>
              <span class="block font-normal">
                <b v-if="index === 0" class="text-pine">stays</b>
                <button v-else type="button" class="link" @click="keep(record.id)">Let this one stay</button>
                ·
                <button type="button" class="link" @click="allFrom(record.id)">Take all of it</button>
              </span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.rows" :key="row.field">
            <th scope="row">
              {{ row.label }}
              <label v-if="row.together" class="block font-normal">
                <input v-model="choices[row.field]" type="radio" :name="row.field" value="together" />
                all of them
              </label>
            </th>
            <td v-for="record in data.records" :key="record.id" :data-chosen="choices[row.field] === record.id">
              <label v-if="row.differs && record.shown[row.field]" class="flex items-start gap-2">
                <input v-model="choices[row.field]" type="radio" class="mt-1" :name="row.field" :value="record.id" />
                <span class="break-words whitespace-pre-line">{{ record.shown[row.field] }}</span>
              </label>
              <span v-else-if="record.shown[row.field]" class="break-words whitespace-pre-line">{{
                record.shown[row.field]
              }}</span>
              <span v-else class="text-muted">empty</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="my-3">{{ along }}</p>
    <p v-if="!mayMerge" class="mb-3 text-muted">
      You may not change the one that stays, or not take the others away, so you read along.
    </p>
    <div class="flex gap-2">
      <button type="submit" class="btn btn-go" :disabled="!mayMerge || busy">Merge into “{{ stays!.title }}”</button>
      <button type="button" class="btn btn-quiet" @click="router.back()">Leave them apart</button>
    </div>
  </form>
</template>

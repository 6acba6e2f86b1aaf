<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import { useLive } from '@/api/live'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import PageHead from '@/parts/PageHead.vue'
import SelectBox from '@/parts/SelectBox.vue'
import StateMark from '@/parts/StateMark.vue'
import TaskMark from '@/parts/TaskMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import BringInDialog from '@/rule/BringInDialog.vue'
import PatternsDialog from '@/rule/PatternsDialog.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import { useThrottleFn } from '@vueuse/core'

const router = useRouter()
const { mayWriteRules, person } = useSession()
const { setup } = useSetup()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/rules', {})))
useLive(useThrottleFn(() => reload(), 2000, true))

const kind = ref('')
const state = ref('')
const owner = ref('')
const bringing = ref(false)
// The first steps of a new house lead straight to the ready rules.
const choosing = ref(useRoute().query.ready === '1')
const { attempt } = useNotices()
// Rules run in the order of this list; it is changed where the whole of it is seen.
const ordered = computed(() => mayWriteRules.value && !kind.value && !state.value && !owner.value)
async function place(index: number, step: number) {
  const all = rules.value
  const before = step < 0 ? all[index - 1]?.id : (all[index + 2]?.id ?? null)
  const path = { id: all[index]!.id }
  const done = await attempt(() =>
    answerOf(api.PUT('/api/rules/{id}/position', { params: { path }, body: { before } })),
  )
  if (done) await reload()
}
const kinds = computed(() => [
  { value: '', words: 'All records' },
  ...setup.value.kinds.map((one) => ({ value: one.key, words: one.plural })),
  { value: 'task', words: 'Tasks' },
])
const states = [
  { value: '', words: 'Any state' },
  { value: 'on', words: 'On' },
  { value: 'paused', words: 'Paused' },
  { value: 'draft', words: 'Draft' },
]
const owners = computed(() => {
  const keys = new Set((data.value?.rules ?? []).map((rule) => rule.owner).filter((key) => key !== null))
  return [
    { value: '', words: 'Any owner' },
    ...setup.value.people.filter((one) => keys.has(one.key)).map((one) => ({ value: one.key, words: one.name })),
  ]
})
const rules = computed(() =>
  (data.value?.rules ?? []).filter(
    (rule) =>
      (!kind.value || rule.kind === kind.value) &&
      (!state.value || rule.state === state.value) &&
      (!owner.value || rule.owner === owner.value),
  ),
)

/** The runs of 30 days as 15 bars of two days each. */
function bars(days: number[]) {
  const pairs = days.flatMap((count, index) => (index % 2 ? [count + (days[index - 1] ?? 0)] : []))
  return pairs.map((count) => Math.max(1, Math.min(18, Math.round(count * 1.6))))
}
const dash = (count: number, always: boolean) => (always || count ? count.toLocaleString('en-GB') : '–')
</script>

<template>
  <PageHead>
    <template #title><h1 class="mr-3 text-xl font-bold">Rules</h1></template>
    <template #default>
      <SelectBox v-model="kind" :options="kinds" label="Kind of record" />
      <SelectBox v-model="state" :options="states" label="State" />
      <SelectBox v-model="owner" :options="owners" label="Owner" />
      <span v-if="mayWriteRules" class="ml-auto flex gap-2">
        <button type="button" class="btn" @click="choosing = true">Ready rules</button>
        <button type="button" class="btn btn-quiet" @click="bringing = true">Bring in a file</button>
        <RouterLink to="/rules/new" class="btn btn-go">New rule</RouterLink>
      </span>
      <span v-else class="ml-auto text-muted"
        >You can read rules. Administrators write them; you are signed in as a {{ person?.role }}.</span
      >
    </template>
  </PageHead>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else-if="data && !rules.length" class="p-8">
    <h2 class="mb-1 text-lg font-semibold">{{ data.rules.length ? 'No rule matches' : 'No rules yet' }}</h2>
    <p class="text-muted">
      A rule says: when this happens to a record, and this holds, make that task.
      <RouterLink v-if="mayWriteRules && !data.rules.length" to="/rules/new">Write the first</RouterLink>
    </p>
  </div>
  <div v-else class="min-w-0 overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th class="w-[34px] border-r border-r-line !text-right">#</th>
          <th>State</th>
          <th>Rule</th>
          <th>Watches</th>
          <th>Last 30 days</th>
          <th class="!text-right">Runs</th>
          <th class="!text-right">Open</th>
          <th class="!text-right">Done</th>
          <th class="!text-right">Answered in</th>
          <th>Notes</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(rule, index) in rules"
          :key="rule.id"
          class="cursor-pointer"
          @click="router.push(`/rules/${rule.id}`)"
        >
          <td class="border-r border-r-line text-right font-mono text-xs text-muted">
            {{ index + 1 }}
            <span v-if="ordered" class="flex justify-end gap-1 font-sans" @click.stop>
              <button
                type="button"
                class="step"
                :disabled="index === 0"
                :aria-label="`Move ${rule.name} up`"
                @click="place(index, -1)"
              >
                ↑</button
              ><button
                type="button"
                class="step"
                :disabled="index === rules.length - 1"
                :aria-label="`Move ${rule.name} down`"
                @click="place(index, 1)"
              >
                ↓
              </button>
            </span>
          </td>
          <td><StateMark :state="rule.state" /></td>
          <td class="min-w-64">
            <TaskMark v-if="rule.mark" :mark="rule.mark" class="mr-1" />
            <RouterLink :to="`/rules/${rule.id}`" class="font-semibold text-ink" @click.stop>{{
              rule.name
            }}</RouterLink>
            <div class="text-sm text-muted">{{ rule.sentence }}</div>
          </td>
          <td class="whitespace-nowrap">{{ rule.watches }}</td>
          <td>
            <span
              class="inline-flex h-[18px] items-end gap-px"
              role="img"
              :aria-label="`${rule.figures.runs} runs in 30 days`"
              ><i
                v-for="(height, bar) in bars(rule.figures.days)"
                :key="bar"
                class="block w-[3px] bg-pine-2"
                :style="{ height: `${height}px` }"
            /></span>
          </td>
          <td class="text-right">{{ dash(rule.figures.runs, rule.version !== null) }}</td>
          <td class="text-right">{{ dash(rule.figures.open, rule.version !== null) }}</td>
          <td class="text-right">{{ dash(rule.figures.done, rule.version !== null) }}</td>
          <td class="text-right whitespace-nowrap">
            {{ rule.figures.answered_in?.replace(' working days', ' wd').replace(' working day', ' wd') ?? '–' }}
          </td>
          <td>
            <span
              v-if="rule.broken"
              class="flag mr-1 bg-red-bg text-red"
              title="What it leans on is gone from the set-up, so it meets nothing. Open it and mend it."
              >Does not fit</span
            >
            <span v-if="rule.paused_because" class="flag mr-1 bg-amber-bg text-amber" :title="rule.paused_because"
              >Fuse blew</span
            >
            <span v-if="rule.figures.failed" class="flag mr-1 bg-red-bg text-red"
              >{{ rule.figures.failed }} failed</span
            >
            <span v-if="rule.draft && rule.version" class="flag bg-amber-bg text-amber"
              >Draft {{ rule.version + 1 }}</span
            >
            <span v-if="!rule.version" class="flag bg-band-2">Never published</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <PatternsDialog :open="choosing" @close="choosing = false" @made="(id) => router.push(`/rules/${id}`)" />
  <BringInDialog :open="bringing" @close="bringing = false" @made="(id) => router.push(`/rules/${id}`)" />
</template>

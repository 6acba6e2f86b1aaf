<script setup lang="ts">
import { answerOf, api } from '@/api/client'
import { useDates } from '@/lib/dates'
import { ref } from 'vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'
import { useLoaded } from '@/lib/useLoaded'
import PiecesText from '@/parts/PiecesText.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import UndoDialog from './UndoDialog.vue'
import TestList from './TestList.vue'
import { tagOf } from '@/rule/actionForms'
import { MESSAGE_STATES } from '@/setup/types'

/** One run: what set it off, every test with its value, what it did, what followed. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ undone: [] }>()
const { mayWriteRules } = useSession()
const { nameOf } = useSetup()
const undoing = ref(false)
const {
  data: run,
  error,
  reload,
} = useLoaded(() => answerOf(api.GET('/api/runs/{id}', { params: { path: { id: props.id } } })), [() => props.id])
const { moment, day } = useDates()
const branchWords = (branches: string[]) =>
  branches.map((one) => (one === 'otherwise' ? 'otherwise' : `branch ${one}`)).join(', ')
const ago = (milliseconds: number) =>
  milliseconds < 2000 ? `${milliseconds} ms` : `${Math.round(milliseconds / 1000)} s`
</script>

<template>
  <TroubleBox v-if="error && !run" :text="error" @retry="reload" />
  <div v-else-if="run" class="flex flex-col gap-3">
    <div>
      <h2 class="inline text-lg font-bold">
        <RouterLink :to="`/rules/${run.rule.id}`" class="text-ink">{{ run.rule.name }}</RouterLink>
      </h2>
      <span class="ml-2 text-muted"
        >version {{ run.version }}{{ run.branches.length ? `, ${branchWords(run.branches)}` : '' }}</span
      >
    </div>
    <p>
      <span class="text-muted">Because</span> {{ run.event
      }}<template v-if="run.record">
        on <RouterLink :to="`/record/${run.record.id}`">{{ run.record.title }}</RouterLink></template
      >
      <span class="text-muted"> {{ moment(run.event_at) }} · run {{ ago(run.milliseconds) }} after the save</span>
    </p>
    <p v-if="run.state === 'undone'" class="border border-line bg-band px-3 py-2">
      Taken back by {{ nameOf(run.undone_by) }}, {{ run.undone_at ? moment(run.undone_at) : '' }}.
    </p>
    <p v-if="run.state === 'failed'" class="border border-red bg-red-bg px-3 py-2">
      It failed, and nothing was made: {{ run.why }}
    </p>
    <section>
      <h3>Tests</h3>
      <TestList v-if="run.tests.length" :tests="run.tests" />
      <p v-else class="text-muted">The rule asks nothing; the trigger alone was enough.</p>
    </section>
    <section>
      <h3>Actions</h3>
      <ul>
        <li
          v-for="action in run.actions"
          :key="`${action.row}${action.number}`"
          class="grid grid-cols-[60px_1fr_auto] gap-[10px] border-b border-line py-[5px]"
        >
          <b class="text-xs leading-5 tracking-wide">{{ action.action === 'none' ? 'NOTHING' : tagOf(action) }}</b>
          <span class="min-w-0 break-words">
            <RouterLink v-if="action.task" :to="{ path: '/worklist', query: { who: 'all', task: action.task.id } }">{{
              action.title
            }}</RouterLink><template v-else>{{ action.title }}</template>
            <span
              v-if="action.task"
              class="flag ml-2 bg-band-2 data-[state=done]:bg-leaf-bg data-[state=done]:text-leaf"
              :data-state="action.task.state"
              >{{ action.task.state }}</span
            >
            <span v-if="action.message" class="flag ml-2 bg-band-2">{{
              MESSAGE_STATES[action.message as 'sent']
            }}</span>
            <span class="block text-muted">{{ [action.reason, ...action.notes].filter(Boolean).join(' · ') }}</span>
          </span>
          <span class="whitespace-nowrap">{{
            action.due ? [day(action.due.on), action.due.at].filter(Boolean).join(' ') : ''
          }}</span>
        </li>
      </ul>
      <p v-if="!run.actions.length" class="text-muted">None.</p>
      <button
        v-if="mayWriteRules && run.state === 'ran'"
        type="button"
        class="btn btn-quiet mt-2"
        @click="undoing = true"
      >
        Take this run back
      </button>
    </section>
    <UndoDialog :open="undoing" :run="run.id" @close="undoing = false" @done="(reload(), emit('undone'))" />
    <section v-if="run.set_off.length">
      <h3>Which set off</h3>
      <ul>
        <li v-for="(one, index) in run.set_off" :key="index" class="border-b border-line py-[5px]">
          <b>{{ moment(one.at) }}</b> <PiecesText :pieces="one.words" /><template
            v-for="other in one.runs"
            :key="other.id"
          >
            → <RouterLink :to="`/trail?run=${other.id}`">{{ other.rule }}</RouterLink></template
          ><span v-if="!one.runs.length" class="text-muted">, which no rule met</span
          ><span v-if="one.chain_ended.length" class="flag ml-2 bg-amber-bg text-amber"
            >The chain ended here, after 8 links; not met by {{ one.chain_ended.join(', ') }}</span
          >
        </li>
      </ul>
    </section>
  </div>
</template>

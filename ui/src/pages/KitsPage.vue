<script setup lang="ts">
import { useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import PageHead from '@/parts/PageHead.vue'
import StateMark from '@/parts/StateMark.vue'
import TaskMark from '@/parts/TaskMark.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

const router = useRouter()
const { mayWriteRules, person } = useSession()
const { kindOf, nameOf } = useSetup()
const { data, error, reload } = useLoaded(() => answerOf(api.GET('/api/kits', {})))
</script>

<template>
  <PageHead>
    <template #title><h1 class="mr-3 text-xl font-bold">Kits</h1></template>
    <template #default>
      <span class="text-muted">Reusable sets of tasks, with decisions between them</span>

      <span v-if="!mayWriteRules" class="ml-auto text-muted"
        >Administrators write kits; you are signed in as a {{ person?.role }}.</span
      >
    </template>
    <template #main
      ><RouterLink v-if="mayWriteRules" to="/kits/new" class="btn btn-go ml-auto">New kit</RouterLink></template
    >
  </PageHead>
  <TroubleBox v-if="error && !data" :text="error" @retry="reload" />
  <div v-else-if="data && !data.kits.length" class="p-8">
    <h2 class="mb-1 text-lg font-semibold">No kits yet</h2>
    <p class="text-muted">
      A kit is a set of tasks that come one after the other, such as all that has to be done before a launch. A rule
      begins it, or somebody does by hand.
      <RouterLink v-if="mayWriteRules" to="/kits/new">Write the first</RouterLink>
    </p>
  </div>
  <div v-else-if="data" class="min-w-0 overflow-x-auto">
    <table class="ledger">
      <thead>
        <tr>
          <th>State</th>
          <th>Kit</th>
          <th>For</th>
          <th>Dates</th>
          <th class="!text-right">Tasks</th>
          <th class="!text-right">In use on</th>
          <th>Owner</th>
          <th>Notes</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="kit in data.kits" :key="kit.id" class="cursor-pointer" @click="router.push(`/kits/${kit.id}`)">
          <td class="whitespace-nowrap">
            <StateMark :state="kit.state" on="In use" :version="kit.version" />
          </td>
          <td class="min-w-52">
            <TaskMark v-if="kit.mark" :mark="kit.mark" class="mr-1" />
            <RouterLink :to="`/kits/${kit.id}`" class="font-semibold text-ink" @click.stop>{{ kit.name }}</RouterLink>
          </td>
          <td class="whitespace-nowrap">{{ kindOf(kit.kind)?.label ?? kit.kind }}</td>
          <td class="whitespace-nowrap">{{ kit.dates }}</td>
          <td class="text-right">{{ kit.task_count }}</td>
          <td class="text-right">{{ kit.running || '–' }}</td>
          <td class="whitespace-nowrap">{{ nameOf(kit.owner) }}</td>
          <td>
            <span v-if="kit.draft && kit.version" class="flag bg-amber-bg text-amber">Draft {{ kit.version + 1 }}</span>
            <span v-if="!kit.version" class="flag bg-band-2">Never published</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { useNotices } from '@/lib/useNotices'
import { wrongAt } from '@/lib/wrongAt'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSession } from '@/state/session'
import { useSetup, type Kind } from '@/state/setup'
import { useListQuery } from './useListQuery'

/** Named views of a list: opened, kept, changed and taken away. */
type View = Schemas['Views']['views'][number]
const props = defineProps<{ kind: Kind }>()
const router = useRouter()
const { view } = useListQuery()
const { setup, nameOf } = useSetup()
const { person } = useSession()
const { attempt } = useNotices()
const { data } = useLoaded(
  () => answerOf(api.GET('/api/views', { params: { query: { kind: props.kind.key } } })),
  [() => props.kind.key],
)
const plain = (query: Record<string, string>) => JSON.stringify(Object.entries(query).sort())
const open = computed(() => data.value?.views.find((one) => plain(one.query) === plain(view.value)))
const show = (one: View) => router.push({ path: `/records/${props.kind.key}`, query: one.query })
const whoseWords = (one: View) =>
  one.whose === 'mine'
    ? 'yours'
    : one.whose === 'team'
      ? (setup.value.teams.find((team) => team.key === one.team)?.name ?? 'a team')
      : 'everybody'

const saving = ref<View | 'new' | null>(null)
const name = ref('')
const whose = ref<View['whose']>('mine')
const wrong = ref<Record<string, string>>({})
const options = computed(() => [
  { value: 'mine' as const, words: 'you' },
  ...(person.value?.team ? [{ value: 'team' as const, words: 'your team' }] : []),
  { value: 'everybody' as const, words: 'everybody' },
])
function ask(one: View | 'new') {
  saving.value = one
  name.value = one === 'new' ? '' : one.name
  whose.value = one === 'new' ? 'mine' : one.whose
  wrong.value = {}
}
async function save() {
  const one = saving.value
  const team = one && one !== 'new' ? one.team : null
  const body = { kind: props.kind.key, name: name.value, query: view.value, whose: whose.value, team }
  try {
    data.value =
      one === 'new' || !one
        ? await answerOf(api.POST('/api/views', { body }))
        : await answerOf(api.PUT('/api/views/{id}', { params: { path: { id: one.id } }, body }))
    saving.value = null
  } catch (problem) {
    wrong.value = wrongAt(problem, ['name', 'whose', 'team', 'query'])
  }
}
async function remove(one: View) {
  const params = { path: { id: one.id } }
  await attempt(async () => {
    data.value = await answerOf(api.DELETE('/api/views/{id}', { params }))
  }, `The view “${one.name}” is gone; the records are as they were.`)
  saving.value = null
}
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="opener" :class="open ? 'font-semibold' : 'text-muted'"
      >{{ open ? open.name : 'Views' }} <span aria-hidden="true" class="text-[10px] text-muted">▾</span></MenuButton
    >
    <MenuItems class="opened max-h-[70vh] w-72 outline-none">
      <MenuItem v-for="one in data?.views ?? []" :key="one.id" v-slot="{ active }">
        <button type="button" class="w-full px-3 py-2 text-left" :class="active ? 'bg-band-2' : ''" @click="show(one)">
          <b v-if="one === open" class="font-semibold">{{ one.name }}</b><template v-else>{{ one.name }}</template>
          <span class="text-muted"> · {{ whoseWords(one) }}</span>
        </button>
      </MenuItem>
      <p v-if="!data?.views.length" class="px-3 py-2 text-muted">
        None yet. Narrow, sort and choose columns, then keep that under a name.
      </p>
      <MenuItem v-slot="{ active }">
        <button
          type="button"
          class="w-full border-t border-line px-3 py-2 text-left"
          :class="active ? 'bg-band-2' : ''"
          @click="ask('new')"
        >
          Keep what is shown as a view…
        </button>
      </MenuItem>
      <MenuItem v-for="one in (data?.views ?? []).filter((each) => each.mine)" :key="one.id" v-slot="{ active }">
        <button
          type="button"
          class="w-full px-3 py-2 text-left text-muted"
          :class="active ? 'bg-band-2' : ''"
          @click="ask(one)"
        >
          Change or take away “{{ one.name }}”…
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
  <DialogBox :open="!!saving" :title="saving === 'new' ? 'Keep this view' : 'Change the view'" @close="saving = null">
    <form @submit.prevent="save">
      <FormRow v-slot="{ id, describedby }" label="What it is called" :wrong="wrong.name ?? wrong.query ?? wrong['']">
        <input :id="id" v-model="name" class="input" maxlength="60" required :aria-describedby="describedby" />
      </FormRow>
      <FormRow label="Who sees it" :wrong="wrong.whose ?? wrong.team" plain>
        <SelectBox v-model="whose" :options="options" label="Who sees it" wide />
      </FormRow>
      <p class="mb-3 text-muted">
        It holds how the list is narrowed, sorted and which columns it shows<template v-if="saving && saving !== 'new'"
          >, as it stands now. It was made by {{ nameOf(saving.by) }}</template
        >. Everybody sees in it only what they see anyway.
      </p>
      <div class="flex flex-wrap gap-2">
        <button type="submit" class="btn btn-go">{{ saving === 'new' ? 'Keep it' : 'Change it' }}</button>
        <button v-if="saving && saving !== 'new'" type="button" class="btn btn-quiet" @click="remove(saving)">
          Take it away
        </button>
      </div>
    </form>
  </DialogBox>
</template>

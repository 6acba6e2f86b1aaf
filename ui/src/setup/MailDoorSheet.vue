<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import { problemsAt } from './formAsks'
import FormFixed from './FormFixed.vue'
import { useChange } from './useChange'

/** One address of the house: who its sender is, and what becomes of a mail. */
const props = defineProps<{ doorKey: string }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { kindOf } = useSetup()
const { wrong, busy, send } = useChange()
type Sheet = Schemas['MailDoorSheet']
const sheet = shallowRef<Sheet | null>(null)
const lost = ref('')
const name = ref('')
const address = ref('')
const contact = ref<string | null>(null)
const makeContact = ref(false)
const text = ref<string | null>(null)
const fixed = ref<Sheet['fixed']>({})

function take(fresh: Sheet) {
  sheet.value = fresh
  name.value = fresh.name
  address.value = fresh.address
  contact.value = fresh.contact
  makeContact.value = fresh.make_contact
  text.value = fresh.text
  fixed.value = fresh.fixed
}
answerOf(api.GET('/api/mail-doors/sheet', { params: { query: { key: props.doorKey } } }))
  .then(take)
  .catch((problem: Error) => (lost.value = problem.message))

const kind = computed(() => sheet.value && kindOf(sheet.value.kind))
const own = (type: string) => (kind.value?.fields ?? []).filter((one) => one.type === type && !one.formula)
const links = computed(() => [
  { value: null as string | null, words: 'none' },
  ...own('link')
    .filter((one) => one.links_to === 'contact')
    .map((one) => ({ value: one.key as string | null, words: one.label })),
])
const texts = computed(() => [
  { value: null as string | null, words: 'none' },
  ...own('long_text').map((one) => ({ value: one.key as string | null, words: one.label })),
])
const asked = computed(() => ['title', contact.value, text.value].filter((one) => one !== null))
const wrongAt = computed(() => ({ ...problemsAt(sheet.value?.problems ?? []), ...wrong.value }))

async function save(open: boolean, said: string) {
  const door = {
    name: name.value,
    address: address.value,
    open,
    contact: contact.value,
    make_contact: makeContact.value,
    text: text.value,
    fixed: fixed.value,
  }
  const body = { key: props.doorKey, seen: sheet.value!.seen, door }
  if (await send(async () => take(await answerOf(api.PUT('/api/mail-doors', { body }))))) say(said)
}
async function takeAway() {
  if (!(await send(() => answerOf(api.DELETE('/api/mail-doors', { body: { key: props.doorKey } }))))) return
  say(`${name.value} is taken away. It can be brought back from here.`)
  emit('close')
}
</script>

<template>
  <TroubleBox v-if="lost" :text="lost" @retry="emit('close')" />
  <form v-if="sheet" class="max-w-xl" @submit.prevent="save(sheet.open, `${name} is saved.`)">
    <h2 class="text-lg font-semibold">{{ sheet.name }}</h2>
    <p class="mb-3" data-test="door-state">
      <b>{{ sheet.open ? 'Open.' : 'Shut: nobody takes mail there.' }}</b>
      A mail becomes one of {{ kind?.plural ?? 'a list that was taken away' }}; its subject is the title, and the mail
      itself stands in the history.
    </p>
    <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrongAt.name"
      ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
    /></FormRow>
    <FormRow v-slot="{ id, describedby }" label="Address to which people write" :wrong="wrongAt.address"
      ><input :id="id" v-model="address" type="email" class="input" maxlength="190" :aria-describedby="describedby"
    /></FormRow>
    <template v-if="kind && kind.key !== 'contact'">
      <FormRow label="The sender is the" :wrong="wrongAt.contact" plain
        ><SelectBox v-model="contact" :options="links" label="The sender is the" wide
      /></FormRow>
      <label v-if="contact" class="mb-3 flex items-center gap-2"
        ><input v-model="makeContact" type="checkbox" /> Make a contact where there is none with that e-mail</label
      >
      <p v-if="wrongAt.make_contact" class="mb-3 text-red" role="alert">{{ wrongAt.make_contact }}</p>
      <FormRow
        v-if="texts.length > 1"
        label="What was written also goes into"
        :wrong="wrongAt.text"
        hint="Rules can then ask about it as about any field."
        plain
        ><SelectBox v-model="text" :options="texts" label="What was written also goes into" wide
      /></FormRow>
    </template>
    <template v-if="kind">
      <h3 class="mb-1">Filled in without being asked</h3>
      <FormFixed v-model="fixed" :kind="kind" :asked="asked" :wrong="wrongAt" />
      <p v-if="wrongAt.fixed" class="mt-1 text-red" role="alert">{{ wrongAt.fixed }}</p>
    </template>
    <p v-if="wrongAt.kind" class="mt-2 text-red" role="alert">{{ wrongAt.kind }}</p>
    <p v-if="wrongAt['']" class="mt-2 text-red" role="alert">{{ wrongAt[''] }}</p>
    <div class="mt-4 flex flex-wrap items-center gap-2">
      <button
        v-if="!sheet.open"
        type="button"
        class="btn btn-go"
        :aria-busy="busy"
        @click="save(true, `${name} is open.`)"
      >
        Save and open it
      </button>
      <button type="submit" class="btn" :class="sheet.open ? 'btn-go' : ''" :aria-busy="busy">Save</button>
      <button v-if="sheet.open" type="button" class="btn" :aria-busy="busy" @click="save(false, `${name} is shut.`)">
        Shut it
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Back</button>
      <button type="button" class="btn btn-quiet ml-auto" :aria-busy="busy" @click="takeAway">Take it away</button>
    </div>
  </form>
</template>

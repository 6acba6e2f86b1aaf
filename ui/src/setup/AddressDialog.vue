<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import SeveralBox from '@/parts/SeveralBox.vue'
import { useSetup } from '@/state/setup'
import { ADDRESS_WORDS } from './types'
import { useChange } from './useChange'
import UsesNote from './UsesNote.vue'

/** A board or a program: its name, where it is, what a call carries, and with what calls are signed. */
type Address = Schemas['Address']
const props = defineProps<{ open: boolean; address: Address | null }>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const { say } = useNotices()
const { wrong, busy, leaning, look, resting, send } = useChange()
const name = ref('')
const way = ref<Address['way']>('board')
const url = ref('')
const perMinute = ref('')
const fields = ref<Record<string, string[]>>({})
const secret = ref('')
/** What was made while the dialog is open. */
const made = ref<Address | null>(null)
const known = computed(() => made.value ?? props.address)

watch(
  () => props.open,
  (open) => {
    if (!open) return
    look()
    wrong.value = {}
    secret.value = ''
    made.value = null
    name.value = props.address?.name ?? ''
    way.value = props.address?.way ?? 'board'
    url.value = ''
    perMinute.value = props.address?.per_minute?.toString() ?? ''
    fields.value = { ...props.address?.fields }
  },
)
const ways = (['board', 'call'] as const).map((value) => ({ value, words: ADDRESS_WORDS[value] }))
const fieldsOf = (key: string) =>
  setup.value.kinds
    .find((kind) => kind.key === key)!
    .fields.map((one) => ({ value: one.key, words: one.kept ? `${one.label} (kept inside the house)` : one.label }))
const limit = () => (perMinute.value.trim() ? Number(perMinute.value) : null)
function take(answer: Schemas['Address'][], key: string | undefined, given: string | undefined) {
  made.value = answer.find((one) => one.key === key) ?? null
  secret.value = given ?? ''
}
async function save() {
  const perMinuteNow = limit()
  if (perMinuteNow !== null && !Number.isInteger(perMinuteNow)) {
    wrong.value = { per_minute: 'It takes a whole number from 1 to 10,000, or nothing.' }
    return
  }
  const form = {
    name: name.value,
    way: way.value,
    url: url.value || null,
    per_minute: perMinuteNow,
    fields: way.value === 'call' ? fields.value : {},
  }
  const key = known.value?.key
  const done = await send(async () => {
    const answer = await answerOf(
      key
        ? api.PUT('/api/addresses', { headers: resting.value, body: { key, address: form } })
        : api.POST('/api/addresses', { body: { address: form } }),
    )
    if (answer.secret) take(answer.addresses, answer.key, answer.secret)
  })
  if (!done) return
  say(`${name.value} is saved.`)
  if (!secret.value) emit('close')
}
async function another() {
  const body = { key: known.value!.key }
  await send(async () => {
    const answer = await answerOf(api.POST('/api/addresses/secret', { body }))
    take(answer.addresses, answer.key, answer.secret)
  })
}
async function drop() {
  const body = { key: known.value!.key }
  await send(async () => {
    const answer = await answerOf(api.DELETE('/api/addresses/secret', { body }))
    take(answer.addresses, answer.key, undefined)
  })
}
async function takeAway() {
  const body = { key: known.value!.key, anyway: leaning.value && !!wrong.value.address }
  if (!(await send(() => answerOf<unknown>(api.DELETE('/api/addresses', { body }))))) return
  say(`${known.value!.name} is taken away.`)
  emit('close')
}
</script>

<template>
  <DialogBox :open="open" :title="known ? known.name : 'New address'" wide @close="emit('close')">
    <form @submit.prevent="save">
      <UsesNote v-if="known" :of="`address ${known.key}`" doing="Look at them before you take it away." />
      <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
      /></FormRow>
      <FormRow v-if="!known" label="What it is" plain :wrong="wrong.way"
        ><SelectBox v-model="way" :options="ways" label="What it is" wide
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        :label="known ? 'Another web address' : 'Web address'"
        :wrong="wrong.url"
        :hint="
          known ? `It is at ${known.host}. The rest is not shown, since it may let others write there.` : undefined
        "
        ><input
          :id="id"
          v-model="url"
          class="input"
          maxlength="500"
          placeholder="https://"
          autocomplete="off"
          :aria-describedby="describedby"
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        label="Messages a minute, at most"
        :wrong="wrong.per_minute"
        hint="Left empty, as many as there are."
        ><input
          :id="id"
          v-model="perMinute"
          class="input !w-24"
          inputmode="numeric"
          maxlength="6"
          :aria-describedby="describedby"
      /></FormRow>
      <template v-if="way === 'call'">
        <FormRow
          v-for="kind in setup.kinds"
          :key="kind.key"
          :label="`What a call about ${kind.plural.toLowerCase()} carries`"
          plain
          ><SeveralBox
            :model-value="fields[kind.key] ?? []"
            :options="fieldsOf(kind.key)"
            :label="`What a call about ${kind.plural.toLowerCase()} carries`"
            blank="no fields"
            wide
            @update:model-value="(keys) => (fields = { ...fields, [kind.key]: keys })"
        /></FormRow>
        <p v-if="wrong.fields" class="mb-3 text-red" role="alert">{{ wrong.fields }}</p>
      </template>
      <div v-if="secret" class="mb-3 border border-amber bg-amber-bg px-3 py-2" role="status">
        <p>
          Calls are signed with this. Give it to whoever keeps the program; it is shown this once and nowhere again.
        </p>
        <code class="block py-1 font-mono break-all select-all" data-test="secret">{{ secret }}</code>
      </div>
      <p v-if="known?.way === 'call' && known.second" class="mb-3">
        Calls are signed with the newest secret and with the one before.
        <button type="button" class="link" :aria-busy="busy" @click="drop">Drop the one before</button>
      </p>
      <p v-if="wrong[''] ?? wrong.address ?? wrong.secret" class="mb-3 text-red" role="alert">
        {{ wrong[''] ?? wrong.address ?? wrong.secret }}
      </p>
      <div class="flex flex-wrap gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">{{ known ? 'Save' : 'Add it' }}</button>
        <button
          v-if="known?.way === 'call'"
          type="button"
          class="btn"
          :aria-busy="busy"
          title="The one before counts too, until you drop it"
          @click="another"
        >
          Another secret
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">{{ secret ? 'Close' : 'Not now' }}</button>
        <button v-if="known" type="button" class="btn btn-quiet ml-auto" :aria-busy="busy" @click="takeAway">
          {{ leaning && wrong.address ? 'Take it away all the same' : 'Take it away' }}
        </button>
      </div>
    </form>
  </DialogBox>
</template>

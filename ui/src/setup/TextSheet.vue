<script setup lang="ts">
import { ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TemplateInput from '@/rule/TemplateInput.vue'
import KeptBar from './KeptBar.vue'
import { useKept } from './useKept'
import UsesNote from './UsesNote.vue'

/** One text: its name, for which records, its subject and words; saved, it is another version. */
const props = defineProps<{ row: Schemas['Kept'] | null }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { wrong, busy, anyway, resting, send, version, kind, kinds, shape, references, look, retire } = useKept({
  version: (key, number) =>
    answerOf(
      api.GET('/api/texts/version', { params: { query: { key, ...(number ? { number: String(number) } : {}) } } }),
    ),
  retire: (key, anyway, headers) => answerOf<unknown>(api.DELETE('/api/texts', { headers, body: { key, anyway } })),
})
const name = ref(props.row?.name ?? '')
kind.value = props.row?.kind ?? kinds.value[0]!.value
const subject = ref('')
const text = ref('')
async function show(number?: number) {
  const found = await look(props.row!.key, number)
  subject.value = found.subject ?? ''
  text.value = found.text ?? ''
}
if (props.row) void show()

async function save() {
  const form = { name: name.value, kind: kind.value, subject: subject.value, text: text.value }
  const key = props.row?.key
  const done = await send(() =>
    answerOf<unknown>(
      key
        ? api.PUT('/api/texts', { headers: resting.value, body: { key, text: form } })
        : api.POST('/api/texts', { body: { text: form } }),
    ),
  )
  if (!done) return
  say(`${name.value} is saved.`)
  emit('close')
}
async function takeAway() {
  if (!(await retire(props.row!.key))) return
  say(`${props.row!.name} is taken away.`)
  emit('close')
}
</script>

<template>
  <form class="max-w-2xl" @submit.prevent="save">
    <h2 class="mb-3 text-lg font-semibold">{{ row?.name ?? 'New text' }}</h2>
    <UsesNote
      v-if="row"
      :of="`text ${row.key}`"
      doing="Those that always take the newest say the new words from the next run on."
    />
    <div class="grid gap-x-3 sm:grid-cols-2">
      <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
      /></FormRow>
      <FormRow label="Filled in from" :wrong="wrong.kind" plain
        ><SelectBox v-model="kind" :options="kinds" label="Filled in from" wide
      /></FormRow>
    </div>
    <template v-if="shape">
      <FormRow
        v-slot="{ id }"
        label="Subject"
        :wrong="wrong.subject"
        hint="For mails; a board and a notice leave it away."
      >
        <TemplateInput
          :id="id"
          v-model="subject"
          :references="references"
          :kind="shape"
          label="Subject"
          :invalid="!!wrong.subject"
        />
      </FormRow>
      <FormRow v-slot="{ id }" label="What it says" :wrong="wrong.text">
        <TemplateInput
          :id="id"
          v-model="text"
          :references="references"
          :kind="shape"
          label="What it says"
          long
          :rows="12"
          :invalid="!!wrong.text"
        />
      </FormRow>
    </template>
    <KeptBar
      :version="version"
      :busy="busy"
      :anyway="anyway"
      :wrong="wrong[''] ?? wrong.kept"
      @save="save"
      @away="takeAway"
      @close="emit('close')"
      @look="show"
    />
  </form>
</template>

<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TemplateInput from '@/rule/TemplateInput.vue'
import { useSetup } from '@/state/setup'
import KeptBar from './KeptBar.vue'
import PaperView from './PaperView.vue'
import { useKept } from './useKept'
import UsesNote from './UsesNote.vue'

/** One paper, and beside it what it comes to; saved, it is another version. `upload`: a new one that is a document. */
const props = defineProps<{ row: Schemas['Kept'] | null; upload: boolean }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { setup } = useSetup()
const { wrong, busy, anyway, resting, send, version, kind, kinds, shape, references, look, retire } = useKept({
  version: (key, number) =>
    answerOf(
      api.GET('/api/papers/version', { params: { query: { key, ...(number ? { number: String(number) } : {}) } } }),
    ),
  retire: (key, anyway, headers) => answerOf<unknown>(api.DELETE('/api/papers', { headers, body: { key, anyway } })),
})
const UPLOAD =
  'An ODT or DOCX of at most 5 MB. Blanks such as {{ record.title }} stand in its text; what is repeated stands ' +
  'between {% for one in record.tasks %} and {% endfor %}, each on a line or in a row of a table of its own.'
const PAGES = [
  { value: 'a4', words: 'A4' },
  { value: 'a5', words: 'A5' },
  { value: 'letter', words: 'Letter' },
]
const name = ref(props.row?.name ?? '')
kind.value = props.row?.kind ?? kinds.value[0]!.value
const page = ref('a4')
const text = ref('')
const file = shallowRef<File | null>(null)
/** The record beside it. */
const record = shallowRef<Pick<Schemas['Linked'], 'id' | 'title'> | null>(null)
const uploaded = computed(() => (props.row ? props.row.form !== 'markdown' : props.upload))
async function show(number?: number) {
  const found = await look(props.row!.key, number)
  page.value = found.page ?? 'a4'
  text.value = found.text ?? ''
}
if (props.row) void show()

/** Something to look at from the first, until another is chosen. */
watch(
  kind,
  async (key) => {
    record.value = null
    if (!setup.value.kinds.some((one) => one.key === key)) return
    const found = await answerOf(api.GET('/api/records', { params: { query: { kind: key } } })).catch(() => null)
    const first = found?.rows[0]
    if (first && kind.value === key) record.value = { id: first.id, title: first.title }
  },
  { immediate: true },
)

const loops = computed(() =>
  (setup.value.relations[kind.value] ?? []).map((one) => ({ value: one.name, words: one.label })),
)
/** The fields of what a loop goes over, for a first example of it. */
function repeat(name: string | null) {
  if (!name) return
  const rows = `| What |\n|---|\n{% for one in record.${name} %}| {{ one.title }} |\n{% endfor %}`
  text.value = `${text.value.trimEnd()}${text.value ? '\n\n' : ''}${rows}\n`
}
const form = computed(() => ({ name: name.value, kind: kind.value, page: page.value, text: text.value }))
/** What stands on the sheet, once nothing has been typed for a moment. */
const settled = refDebounced(
  computed(() => (uploaded.value ? String(version.value?.number) : JSON.stringify(form.value))),
  500,
)
const preview = (record: number) =>
  answerOf(
    api.POST('/api/papers/preview', {
      body: uploaded.value
        ? { record, key: props.row!.key, number: version.value?.number ?? null }
        : { record, paper: form.value },
    }),
  )
const key = computed(() => props.row?.key)

async function save() {
  const done = await send(() => (uploaded.value ? sendDocument() : sendText()))
  if (!done) return
  say(`${name.value} is saved.`)
  emit('close')
}
const sendText = () =>
  answerOf<unknown>(
    key.value
      ? api.PUT('/api/papers', { headers: resting.value, body: { key: key.value, paper: form.value } })
      : api.POST('/api/papers', { body: { paper: form.value } }),
  )
const sendDocument = () =>
  answerOf<unknown>(
    api.POST('/api/papers/document', {
      params: {
        query: {
          name: name.value || ' ',
          kind: kind.value,
          ...(key.value ? { key: key.value, ...(version.value ? { number: String(version.value.number) } : {}) } : {}),
        },
      },
      body: (file.value ?? new Blob([])) as Blob,
      bodySerializer: (body) => body,
      headers: { ...resting.value, 'Content-Type': 'application/octet-stream' },
    }),
  )
async function takeAway() {
  if (!(await retire(props.row!.key))) return
  say(`${props.row!.name} is taken away.`)
  emit('close')
}
</script>

<template>
  <div class="grid gap-x-8 gap-y-6 min-[1100px]:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
    <form @submit.prevent="save">
      <h2 class="mb-3 text-lg font-semibold">
        {{ row?.name ?? (uploaded ? 'A paper to upload' : 'New paper') }}
      </h2>
      <UsesNote
        v-if="row"
        :of="`paper ${row.key}`"
        doing="Rules stay at the version with which they were published, unless they say otherwise."
      />
      <div class="grid gap-x-3" :class="uploaded ? 'sm:grid-cols-2' : 'sm:grid-cols-[1fr_1fr_auto]'">
        <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name"
          ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
        /></FormRow>
        <FormRow label="Filled in from" :wrong="wrong.kind" plain
          ><SelectBox v-model="kind" :options="kinds" label="Filled in from" wide
        /></FormRow>
        <FormRow v-if="!uploaded" label="Size of its pages" :wrong="wrong.page" plain
          ><SelectBox v-model="page" :options="PAGES" label="Size of its pages"
        /></FormRow>
      </div>
      <template v-if="uploaded">
        <FormRow label="Document" :wrong="wrong.text" :hint="UPLOAD" plain>
          <span class="mr-3">{{ file?.name ?? (row ? 'as it was uploaded' : 'none yet') }}</span>
          <label class="cursor-pointer text-link hover:underline focus-within:outline-2">
            Choose a document
            <input
              type="file"
              class="sr-only"
              accept=".odt,.docx"
              @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null"
            />
          </label>
          <a
            v-if="version"
            class="ml-3"
            :href="`/api/papers/document?key=${row!.key}&number=${version.number}`"
            download
            >Take out version {{ version.number }}</a
          >
        </FormRow>
      </template>
      <template v-else-if="shape">
        <FormRow
          v-slot="{ id }"
          label="What it says"
          :wrong="wrong.text"
          hint="Markdown: # for a heading, **bold**, - for a list, | for a table."
        >
          <TemplateInput
            :id="id"
            v-model="text"
            :references="references"
            :kind="shape"
            label="What it says"
            long
            :rows="18"
            :invalid="!!wrong.text"
          />
        </FormRow>
        <FormRow v-if="loops.length" label="Repeat for each of its" plain
          ><SelectBox
            :model-value="null"
            :options="loops"
            label="Repeat for each of its"
            blank="Choose what is repeated"
            @update:model-value="repeat"
        /></FormRow>
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
    <section v-if="!uploaded || row" aria-label="As it comes out" class="min-w-0">
      <PaperView v-model:record="record" :kind="kind" :version="settled" :name="name" :fetch="preview" />
    </section>
  </div>
</template>

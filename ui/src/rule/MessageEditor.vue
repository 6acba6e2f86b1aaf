<script setup lang="ts">
import { computed } from 'vue'
import { leaveOut } from '@/lib/leaveOut'
import ClockInput from '@/parts/ClockInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { sentenceCase } from '@/lib/words'
import { useSetup, type Kind } from '@/state/setup'
import DateRuleEditor from './DateRuleEditor.vue'
import { isTask, keptFor, speaksOfTask, withSaved, type Action, type DateRule, type Reference } from './model'
import ReceiversEditor from './ReceiversEditor.vue'
import SavedPicker from './SavedPicker.vue'
import TemplateInput from './TemplateInput.vue'

/** A mail, what is written on a board, or a call to a program; and when it leaves the house. */
const props = defineProps<{ references: Reference[]; kind: Kind; earlier: Action[]; wrong: Record<string, string> }>()
const action = defineModel<Action>({ required: true })
const { setup } = useSetup()

const LINES = [
  { name: 'receivers', label: 'To', optional: false, most: 20 },
  { name: 'cc', label: 'Copy to', optional: true, most: 20 },
  { name: 'reply_to', label: 'Answers go to', optional: true, most: 1 },
] as const
const FROM = [{ value: 'now', words: 'the rule ran' }]
const addresses = computed(() =>
  setup.value.addresses
    .filter((one) => one.way === action.value.action)
    .map((one) => ({ value: one.key, words: one.name })),
)
const fields = computed(() =>
  props.kind.fields
    .filter((field) => !field.formula && (!field.built_in || ['owner', 'stage', 'title'].includes(field.key)))
    .map((field) => ({ value: field.key, words: field.label })),
)
/** Sentences of what stands within a line, by place in it. */
const within = (name: string) =>
  Object.fromEntries(
    Object.entries(props.wrong)
      .filter(([place]) => place === name || place.startsWith(`${name}.`))
      .map(([place, said]) => [place.slice(name.length + 1), said]),
  )
function put(changes: Partial<Action>) {
  const empty = (value: unknown) => value === undefined || value === false || (Array.isArray(value) && !value.length)
  action.value = leaveOut({ ...action.value, ...changes }, empty)
}
const texts = computed(() => keptFor(setup.value.texts, props.kind))
/** What can go along with a mail; what stands in the rule is shown, so that it can be taken away. */
const attachable = computed(() => [
  {
    key: 'papers' as const,
    words: 'papers made by this rule',
    shown: props.earlier.some((one) => one.action === 'paper'),
  },
  { key: 'files' as const, words: 'files of the task', shown: speaksOfTask(props.references) },
])
const attached = (key: 'papers' | 'files') => action.value.attach?.includes(key) ?? false
const attach = (key: 'papers' | 'files', on: boolean) =>
  put({ attach: [...(action.value.attach ?? []).filter((one) => one !== key), ...(on ? [key] : [])] })
const fromNow = (rule: DateRule | undefined) => rule && { ...rule, from: 'now', direction: 'after' }
const putRead = (index: number, change: Partial<{ path: string; field: string }>) =>
  put({ read: (action.value.read ?? []).map((one, i) => (i === index ? { ...one, ...change } : one)) })
</script>

<template>
  <template v-if="action.action === 'mail'">
    <ReceiversEditor
      v-for="line in LINES"
      :key="line.name"
      :model-value="action[line.name] ?? []"
      :label="line.label"
      :references="references"
      :most="line.most"
      :optional="line.optional"
      :wrong="within(line.name)"
      @update:model-value="(all) => put({ [line.name]: all })"
    />
  </template>
  <template v-else>
    <FormRow
      v-if="addresses.length"
      :label="action.action === 'board' ? 'Which board' : 'Which program'"
      :wrong="wrong.address"
      plain
      ><SelectBox
        :model-value="action.address ?? null"
        :options="addresses"
        :label="action.action === 'board' ? 'Which board' : 'Which program'"
        wide
        @update:model-value="(address) => put({ address: address ?? undefined })"
    /></FormRow>
    <p v-else class="mb-3 text-amber">
      There is no {{ action.action === 'board' ? 'board' : 'program to call' }} yet. Name one in the
      <RouterLink to="/setup/addresses">set-up, under Addresses</RouterLink>.
    </p>
  </template>
  <SavedPicker
    v-if="action.action !== 'call' && (texts.length || action.saved)"
    :model-value="action.saved"
    label="Its words"
    :options="texts"
    none="typed here"
    :wrong="wrong.saved ?? wrong['saved.key'] ?? wrong['saved.version']"
    @update:model-value="(saved) => (action = withSaved(action, saved))"
  />
  <template v-if="action.action === 'mail'">
    <FormRow v-if="!action.saved" v-slot="{ id }" label="Subject" :wrong="wrong.subject">
      <TemplateInput
        :id="id"
        :model-value="action.subject ?? ''"
        :references="references"
        :kind="kind"
        label="Subject"
        :invalid="!!wrong.subject"
        @update:model-value="(subject) => put({ subject })"
      />
    </FormRow>
  </template>
  <FormRow v-if="action.action !== 'call' && !action.saved" v-slot="{ id }" label="What it says" :wrong="wrong.text">
    <TemplateInput
      :id="id"
      :model-value="action.text ?? ''"
      :references="references"
      :kind="kind"
      label="What it says"
      long
      :rows="9"
      :invalid="!!wrong.text"
      @update:model-value="(text) => put({ text })"
    />
  </FormRow>
  <FormRow v-if="action.action === 'call' && !isTask(kind)" label="Read back from its answer" :wrong="wrong.read" plain>
    <ul>
      <li v-for="(one, index) in action.read ?? []" :key="index" class="mb-2">
        <div class="flex items-start gap-2">
          <div class="grid min-w-0 flex-1 gap-1">
            <input
              :value="one.path"
              class="input"
              maxlength="200"
              placeholder="order.number"
              :aria-label="`Answer ${index + 1}: where it stands`"
              @input="putRead(index, { path: ($event.target as HTMLInputElement).value })"
            />
            <SelectBox
              :model-value="one.field"
              :options="fields"
              :label="`Answer ${index + 1}: field`"
              wide
              @update:model-value="(field) => putRead(index, { field: field ?? '' })"
            />
          </div>
          <button
            type="button"
            class="btn btn-quiet"
            :aria-label="`Take away answer ${index + 1}`"
            @click="put({ read: (action.read ?? []).filter((_, i) => i !== index) })"
          >
            ×
          </button>
        </div>
        <p
          v-for="said in Object.values(within(`read.${index}`))"
          :key="said"
          class="mt-1 text-sm text-red"
          role="alert"
        >
          {{ said }}
        </p>
      </li>
    </ul>
    <button type="button" class="link" @click="put({ read: [...(action.read ?? []), { path: '', field: '' }] })">
      Read something into a field
    </button>
  </FormRow>
  <FormRow
    v-if="action.action === 'mail' && attachable.some((one) => one.shown || attached(one.key))"
    label="Attached"
    :wrong="wrong.attach"
    plain
  >
    <template v-for="one in attachable" :key="one.key">
      <label v-if="one.shown || attached(one.key)" class="mb-1 flex items-center gap-2">
        <input
          type="checkbox"
          :checked="attached(one.key)"
          @change="attach(one.key, ($event.target as HTMLInputElement).checked)"
        />
        {{ sentenceCase(one.words) }}
      </label>
    </template>
  </FormRow>
  <DateRuleEditor
    :model-value="action.leaves"
    label="When it leaves"
    :references="[]"
    :froms="FROM"
    :wrong="Object.values(within('leaves'))[0]"
    @update:model-value="(rule) => put({ leaves: fromNow(rule) })"
  />
  <p v-if="!action.leaves" class="mb-3 text-sm text-muted">
    Two minutes after the rule ran, unless you say; until then the run can be taken back.
  </p>
  <FormRow
    v-slot="{ id }"
    label="Not before, on a working day"
    :wrong="wrong.not_before"
    hint="Left empty, it leaves at any hour."
    ><ClockInput
      :id="id"
      :model-value="action.not_before ?? ''"
      label="Not before, on a working day"
      @update:model-value="(time) => put({ not_before: time || undefined })"
  /></FormRow>
  <label class="mb-3 flex items-center gap-2">
    <input
      type="checkbox"
      :checked="action.ask ?? false"
      @change="put({ ask: ($event.target as HTMLInputElement).checked })"
    />
    Ask whoever caused it first
  </label>
</template>

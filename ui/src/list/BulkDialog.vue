<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLoaded } from '@/lib/useLoaded'
import { counted } from '@/lib/words'
import { wrongAt } from '@/lib/wrongAt'
import DialogBox from '@/parts/DialogBox'
import FieldInput from '@/parts/FieldInput.vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSession } from '@/state/session'
import { useSetup, type Kind } from '@/state/setup'

/** Asks what is to be done with many records, and begins it. */
const props = defineProps<{
  open: boolean
  kind: Kind
  count: number
  /** Those that were chosen; null for all that match. */
  records: number[] | null
  query: Record<string, string>
}>()
const emit = defineEmits<{ close: [] }>()
type What = 'set' | 'list' | 'take_off' | 'rule' | 'trash'
const router = useRouter()
const { setup } = useSetup()
const { isLead } = useSession()
const { data } = useLoaded(
  async () => (isLead.value && props.open ? await answerOf(api.GET('/api/rules', {})) : null),
  [() => props.open],
)
const rules = computed(() =>
  (data.value?.rules ?? []).filter((rule) => rule.kind === props.kind.key && rule.state === 'on'),
)
const lists = computed(() => setup.value.kinds.filter((one) => one.about === props.kind.key))
const entry = computed(() => props.kind.family === 'entry')
const WAYS = computed(() => [
  { value: 'set' as What, words: 'Set a field' },
  ...(lists.value.length ? [{ value: 'list' as What, words: 'Put on a list' }] : []),
  ...(rules.value.length ? [{ value: 'rule' as What, words: 'Start a rule' }] : []),
  entry.value
    ? { value: 'take_off' as What, words: `Take off ${props.kind.plural}` }
    : { value: 'trash' as What, words: 'Take away' },
])
const what = ref<What>('set')
const fields = computed(() =>
  props.kind.fields.filter(
    (field) =>
      !field.formula &&
      (!field.built_in || field.key === 'owner' || (field.key === 'stage' && props.kind.stages.length > 0)),
  ),
)
const fieldKey = ref('')
const field = computed(() => fields.value.find((one) => one.key === fieldKey.value))
const value = ref<unknown>(null)
const list = ref('')
const rule = ref(0)
const wrong = ref<Record<string, string>>({})
const busy = ref(false)
watch(
  () => [props.open, props.kind.key],
  () => {
    what.value = 'set'
    fieldKey.value = fields.value.find((one) => one.key === 'stage')?.key ?? fields.value[0]?.key ?? ''
    list.value = lists.value[0]?.key ?? ''
    wrong.value = {}
  },
  { immediate: true },
)
watch(rules, (all) => (rule.value = all[0]?.id ?? 0))
watch(fieldKey, () => (value.value = field.value?.key === 'stage' ? (props.kind.stages[0]?.key ?? null) : null), {
  immediate: true,
})
const many = computed(() => counted(props.count, props.kind.label.toLowerCase(), props.kind.plural.toLowerCase()))
const emptying = computed(() => what.value === 'set' && (value.value === null || value.value === ''))

async function begin() {
  busy.value = true
  wrong.value = {}
  try {
    const body = {
      kind: props.kind.key,
      what: what.value,
      ...(props.records ? { records: props.records } : { query: props.query }),
      ...(what.value === 'set' ? { field: fieldKey.value, value: value.value as Schemas['PlainValue'] } : {}),
      ...(what.value === 'list' ? { list: list.value } : {}),
      ...(what.value === 'rule' ? { rule: rule.value } : {}),
    }
    const change = await answerOf(api.POST('/api/bulk', { body }))
    emit('close')
    await router.push(`/bulk/${change.id}`)
  } catch (problem) {
    wrong.value = wrongAt(problem, ['value', 'list', 'rule', 'what'])
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`Change ${many}`" @close="emit('close')">
    <form @submit.prevent="begin">
      <FormRow label="What is done with each" :wrong="wrong.what" plain>
        <SelectBox v-model="what" :options="WAYS" label="What is done with each" wide />
      </FormRow>
      <template v-if="what === 'set'">
        <FormRow label="Field" plain>
          <SelectBox
            v-model="fieldKey"
            :options="fields.map((one) => ({ value: one.key, words: one.label }))"
            label="Field"
            wide
          />
        </FormRow>
        <FormRow v-if="field" v-slot="{ id, describedby }" label="Becomes" :wrong="wrong.value">
          <FieldInput
            :id="id"
            :key="field.key"
            v-model="value"
            :field="field"
            :invalid="!!wrong.value"
            :describedby="describedby"
          />
        </FormRow>
      </template>
      <FormRow v-if="what === 'list'" label="List" :wrong="wrong.list" plain>
        <SelectBox
          v-model="list"
          :options="lists.map((one) => ({ value: one.key, words: one.plural }))"
          label="List"
          wide
        />
      </FormRow>
      <FormRow v-if="what === 'rule'" label="Rule" :wrong="wrong.rule" plain>
        <SelectBox
          v-model="rule"
          :options="rules.map((one) => ({ value: one.id, words: one.name }))"
          label="Rule"
          wide
        />
      </FormRow>
      <p v-if="wrong['']" class="mb-2 text-red" role="alert">{{ wrong[''] }}</p>
      <p class="mb-4 text-muted">
        A worker does it one after the other, as you would by hand: rules meet each, and what you may not change, or
        what is refused, stays as it is and is named. It can be stopped, and undone as one for 7 days<template
          v-if="what === 'trash'"
          >; they lie in the trash for 30</template
        >.
      </p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy || !count">
          {{
            emptying ? `Empty ${field?.label} of ${many}` : what === 'trash' ? `Take ${many} away` : `Change ${many}`
          }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Leave them as they are</button>
      </div>
    </form>
  </DialogBox>
</template>

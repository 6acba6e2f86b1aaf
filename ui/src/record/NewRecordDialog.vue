<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { wrongAt } from '@/lib/wrongAt'
import DialogBox from '@/parts/DialogBox'
import FieldInput from '@/parts/FieldInput.vue'
import FormRow from '@/parts/FormRow.vue'
import { useSession } from '@/state/session'
import type { Kind } from '@/state/setup'
import AlikeRecords from './AlikeRecords.vue'
import { useSetBy } from './setBy'

/** A new record of a kind. What was typed stays until it is made. */
const props = defineProps<{ open: boolean; kind: Kind }>()
const emit = defineEmits<{ close: []; made: [record: Schemas['Record']] }>()
const { person } = useSession()
const { note } = useSetBy()
const values = ref<Record<string, unknown>>({})
const wrong = ref<Record<string, string>>({})
const busy = ref(false)

const fields = computed(() =>
  props.kind.fields.filter(
    (field) =>
      (!field.built_in && !field.formula) ||
      ['title', 'owner'].includes(field.key) ||
      (field.key === 'stage' && props.kind.stages.length),
  ),
)
const blank = () => ({
  owner: person.value?.key,
  ...(props.kind.stages[0] ? { stage: props.kind.stages[0].key } : {}),
  ...Object.fromEntries(props.kind.fields.filter((one) => one.default != null).map((one) => [one.key, one.default])),
})
watch(
  () => props.kind.key,
  () => (values.value = blank()),
  { immediate: true },
)

async function save() {
  busy.value = true
  wrong.value = {}
  try {
    // What stands empty where a value would begin is meant to be empty.
    const given = Object.fromEntries(
      Object.entries(values.value).filter(([key, value]) => key in blank() || (value !== '' && value !== null)),
    )
    const record = await answerOf(api.POST('/api/records', { body: { kind: props.kind.key, values: given } }))
    values.value = blank()
    note(record)
    emit('made', record)
    emit('close')
  } catch (problem) {
    wrong.value = wrongAt(
      problem,
      fields.value.map((field) => field.key),
    )
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <DialogBox :open="open" :title="`New ${kind.label.toLowerCase()}`" wide @close="emit('close')">
    <form @submit.prevent="save">
      <div class="grid gap-x-4 sm:grid-cols-2">
        <FormRow
          v-for="field in fields"
          :key="field.key"
          v-slot="{ id, describedby }"
          :label="field.required ? `${field.label} (needed)` : field.label"
          :hint="field.help ?? undefined"
          :wrong="wrong[field.key]"
          :class="field.type === 'long_text' || field.key === 'title' ? 'sm:col-span-2' : ''"
          :plain="['choice', 'choices', 'person', 'yes_no', 'link'].includes(field.type)"
        >
          <FieldInput
            :id="id"
            v-model="values[field.key]"
            :field="field"
            :invalid="!!wrong[field.key]"
            :describedby="describedby"
          />
        </FormRow>
      </div>
      <AlikeRecords v-if="open" :kind="kind" :values="values" />
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :disabled="busy">Make the {{ kind.label.toLowerCase() }}</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

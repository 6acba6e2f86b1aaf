<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import FieldPicker from './FieldPicker.vue'
import type { Reference } from './model'
import type { ReceiverName } from './names'

/** A line of a mail: persons, teams, e-mail fields and addresses to which it goes, one below the other. */
type Receiver = Schemas['Receiver']
const props = defineProps<{
  label: string
  references: Reference[]
  /** How many there can be. */
  most?: number
  /** Whether the line may be empty. */
  optional?: boolean
  /** Sentences by place within the line: '', '0', '0.address' and so on. */
  wrong: Record<string, string>
}>()
const value = defineModel<Receiver[]>({ required: true })
const { setup, people } = useSetup()

const ways = computed(() => setup.value.vocabulary.receivers.map((one) => ({ value: one.name, words: one.words })))
const persons = computed(() => props.references.filter((one) => one.field.type === 'person'))
const emails = computed(() => props.references.filter((one) => one.field.type === 'email'))
const fieldsOf = (one: Receiver) => (one.to === 'email' ? emails.value : persons.value)

/** What a way begins with. */
function begun(to: ReceiverName): Receiver {
  const takes = setup.value.vocabulary.receivers.find((one) => one.name === to)?.takes ?? {}
  const first = {
    person: people.value[0]?.key,
    team: setup.value.teams[0]?.key,
    field: fieldsOf({ to })[0]?.path,
    address: '',
  }
  return { to, ...Object.fromEntries(Object.keys(takes).map((name) => [name, first[name as 'person'] ?? ''])) }
}
const put = (index: number, one: Receiver) => (value.value = value.value.map((old, i) => (i === index ? one : old)))
const away = (index: number) => (value.value = value.value.filter((_, i) => i !== index))
const add = () => (value.value = [...value.value, begun(emails.value.length ? 'email' : 'owner')])
const wrongOf = (index: number) =>
  Object.entries(props.wrong).find(([place]) => place === String(index) || place.startsWith(`${index}.`))?.[1]
</script>

<template>
  <FormRow :label="label" :wrong="wrong['']" plain>
    <ul>
      <li v-for="(one, index) in value" :key="index" class="mb-2 border-b border-line pb-2">
        <div class="flex items-start gap-2">
          <div class="grid min-w-0 flex-1 gap-1">
            <SelectBox
              :model-value="one.to"
              :options="ways"
              :label="`${label} ${index + 1}`"
              wide
              @update:model-value="(to) => put(index, begun(to))"
            />
            <SelectBox
              v-if="one.to === 'person'"
              :model-value="one.person ?? null"
              :options="people.map((person) => ({ value: person.key, words: person.name }))"
              :label="`${label} ${index + 1}: who`"
              wide
              @update:model-value="(person) => put(index, { to: 'person', person: person ?? '' })"
            />
            <SelectBox
              v-else-if="one.to === 'team'"
              :model-value="one.team ?? null"
              :options="setup.teams.map((team) => ({ value: team.key, words: team.name }))"
              :label="`${label} ${index + 1}: team`"
              wide
              @update:model-value="(team) => put(index, { to: 'team', team: team ?? '' })"
            />
            <FieldPicker
              v-else-if="one.to === 'email' || one.to === 'field'"
              :model-value="one.field"
              :references="fieldsOf(one)"
              :label="`${label} ${index + 1}: field`"
              @update:model-value="(field) => put(index, { to: one.to, field: field ?? '' })"
            />
            <input
              v-else-if="one.to === 'address'"
              :value="one.address"
              class="input"
              type="email"
              maxlength="190"
              placeholder="name@example.org"
              :aria-label="`${label} ${index + 1}: address`"
              @input="put(index, { to: 'address', address: ($event.target as HTMLInputElement).value })"
            />
          </div>
          <button
            v-if="optional || value.length > 1"
            type="button"
            class="btn btn-quiet"
            :aria-label="`Take away ${label.toLowerCase()} ${index + 1}`"
            @click="away(index)"
          >
            ×
          </button>
        </div>
        <p v-if="wrongOf(index)" class="mt-1 text-sm text-red" role="alert">{{ wrongOf(index) }}</p>
      </li>
    </ul>
    <button v-if="value.length < (most ?? 20)" type="button" class="link" @click="add">
      {{ value.length ? 'Somebody else too' : 'Name somebody' }}
    </button>
  </FormRow>
</template>

<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answerOf, api, sentenceOf, type Schemas } from '@/api/client'
import { wrongAt } from '@/lib/wrongAt'
import FormRow from '@/parts/FormRow.vue'
import type { Field } from '@/state/setup'

/** A form that a visitor fills in without signing in. What it sends becomes an entry of a list. */
const route = useRoute()
const form = ref<{ name: string; fields: Field[] } | null>(null)
const trouble = ref('')
const values = ref<Record<string, string>>({})
const several = ref<Record<string, string[]>>({})
const wrong = ref<Record<string, string>>({})
const sent = ref(false)
const busy = ref(false)
const list = () => String(route.params.list)

watch(
  () => route.params.list,
  async () => {
    try {
      form.value = await answerOf(api.GET('/api/door/{list}', { params: { path: { list: list() } } }))
      const choices = form.value.fields.filter((field) => field.type === 'choices')
      several.value = Object.fromEntries(choices.map((field) => [field.key, []]))
      document.title = form.value.name
    } catch (problem) {
      trouble.value = sentenceOf(problem)
    }
  },
  { immediate: true },
)
async function send() {
  busy.value = true
  wrong.value = {}
  try {
    const given = Object.fromEntries(
      [...Object.entries(values.value), ...Object.entries(several.value)].filter(([, value]) => value.length),
    )
    const path = { list: list(), door: 'form' }
    await answerOf(
      api.POST('/api/door/{list}/{door}', { params: { path }, body: { values: given as Schemas['Values'] } }),
    )
    sent.value = true
  } catch (problem) {
    wrong.value = wrongAt(problem, ['title', ...form.value!.fields.map((field) => field.key)])
  } finally {
    busy.value = false
  }
}
const inputType = (field: Field) =>
  ({ date: 'date', datetime: 'datetime-local', email: 'email', phone: 'tel', url: 'url' })[field.type as string] ??
  'text'
</script>

<template>
  <div class="mx-auto w-full max-w-lg p-4 pt-10">
    <p v-if="trouble" class="text-red">{{ trouble }}</p>
    <template v-else-if="form">
      <h1 class="mb-4 text-xl font-bold">{{ form.name }}</h1>
      <p v-if="sent" class="border border-leaf bg-leaf-bg px-3 py-2" role="status">
        Thank you. What you wrote has arrived, and somebody will look at it.
      </p>
      <form v-else class="border border-pine bg-paper p-4" @submit.prevent="send">
        <FormRow v-slot="{ id }" label="What it is about" :wrong="wrong.title"
          ><input :id="id" v-model="values.title" class="input" maxlength="500" required
        /></FormRow>
        <FormRow
          v-for="field in form.fields"
          :key="field.key"
          v-slot="{ id }"
          :label="field.required ? `${field.label} (needed)` : field.label"
          :hint="field.help ?? undefined"
          :wrong="wrong[field.key]"
          :plain="field.type === 'choices'"
        >
          <div
            v-if="field.type === 'choices'"
            role="group"
            :aria-label="field.label"
            class="border border-line px-2 py-1"
          >
            <label v-for="choice in field.choices" :key="choice.key" class="flex items-center gap-2 py-1">
              <input v-model="several[field.key]" type="checkbox" :value="choice.key" />{{ choice.label }}
            </label>
          </div>
          <select v-else-if="field.type === 'choice'" :id="id" v-model="values[field.key]" class="input">
            <option value="" />
            <option v-for="choice in field.choices" :key="choice.key" :value="choice.key">{{ choice.label }}</option>
          </select>
          <select v-else-if="field.type === 'yes_no'" :id="id" v-model="values[field.key]" class="input">
            <option value="" />
            <option value="yes">yes</option>
            <option value="no">no</option>
          </select>
          <textarea
            v-else-if="field.type === 'long_text'"
            :id="id"
            v-model="values[field.key]"
            class="input"
            rows="5"
          />
          <input v-else :id="id" v-model="values[field.key]" :type="inputType(field)" class="input" />
        </FormRow>
        <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
        <button type="submit" class="btn btn-go" :disabled="busy">Send</button>
      </form>
    </template>
  </div>
</template>

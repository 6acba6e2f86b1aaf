<script setup lang="ts">
import { computed } from 'vue'
import { useSetup } from '@/state/setup'
import { fieldsOf, type Around, type FieldForms, type Said, type TaskFormName } from './fields'

/**
 * All that a task says, in a rule, in a kit and in the forms for somebody's own. Which fields there are the core says;
 * `forms` draws each type. What a form has besides stands in slots after a field: `after-title`, say.
 */
const props = defineProps<{
  form: TaskFormName
  forms: FieldForms
  wrong: Record<string, string>
  around?: Around
}>()
const said = defineModel<Said>({ required: true })
const { setup } = useSetup()

const fields = computed(() => fieldsOf(setup.value, props.form))
const put = (changes: Said) => (said.value = { ...said.value, ...changes })
</script>

<template>
  <div class="grid gap-x-3 sm:grid-cols-2">
    <template v-for="field in fields" :key="field.key">
      <component
        :is="forms[field.type]"
        :field="field"
        :form="form"
        :said="said"
        :put="put"
        :wrong="wrong"
        :around="around"
      />
      <slot :name="`after-${field.key}`" />
    </template>
  </div>
</template>

<script setup lang="ts">
import type { Schemas } from '@/api/client'
import FormRow from '@/parts/FormRow.vue'
import type { Kind } from '@/state/setup'
import type { Reference } from './model'
import TemplateInput from './TemplateInput.vue'

/** A paper that is filled in from a text with blanks and attached to the task as a file. */
defineProps<{ kind: Kind; references: Reference[]; wrong?: string }>()
const paper = defineModel<Schemas['Paper'] | undefined>({ required: true })
</script>

<template>
  <fieldset class="mb-3 border border-line p-2">
    <legend class="lab px-1">Paper</legend>
    <button v-if="!paper" type="button" class="link" @click="paper = { name: '', text: '' }">
      Attach a filled-in paper
    </button>
    <template v-else>
      <FormRow v-slot="{ id }" label="Name of the paper">
        <input
          :id="id"
          class="input"
          :value="paper.name"
          maxlength="120"
          @input="paper = { ...paper!, name: ($event.target as HTMLInputElement).value }"
        />
      </FormRow>
      <TemplateInput
        :model-value="paper.text"
        :references="references"
        :kind="kind"
        label="Text of the paper"
        long
        @update:model-value="(text) => (paper = { ...paper!, text })"
      />
      <button type="button" class="link mt-1 text-sm" @click="paper = undefined">No paper</button>
    </template>
    <p v-if="wrong" class="mt-1 text-sm text-red" role="alert">{{ wrong }}</p>
  </fieldset>
</template>

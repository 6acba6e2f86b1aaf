<script setup lang="ts">
import { ref } from 'vue'
import FormRow from './FormRow.vue'

/** A password that somebody chooses, with what it must be and a way to see what is typed. */
defineProps<{ label?: string; wrong?: string }>()
const password = defineModel<string>({ required: true })
const shown = ref(false)
</script>

<template>
  <FormRow
    v-slot="{ id, describedby }"
    :label="label ?? 'Password'"
    :wrong="wrong"
    hint="At least 10 characters; a few words that do not belong together make a good one."
  >
    <input
      :id="id"
      v-model="password"
      :type="shown ? 'text' : 'password'"
      class="input"
      maxlength="200"
      required
      autocomplete="new-password"
      :aria-invalid="wrong ? true : undefined"
      :aria-describedby="describedby"
    />
  </FormRow>
  <label class="mb-5 flex items-center gap-2"><input v-model="shown" type="checkbox" />Show the password</label>
</template>

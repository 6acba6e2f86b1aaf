<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answerOf, api } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import ChoiceRows from './ChoiceRows.vue'
import { useChange } from './useChange'

/** A new list: what it is called, what stands on it, and its sections. */
const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { wrong, busy, send } = useChange()
const plural = ref('')
const label = ref('')
const about = ref('')
const sections = ref<{ label: string }[]>([])
watch(
  () => props.open,
  (open) => {
    if (!open) return
    plural.value = ''
    label.value = ''
    about.value = ''
    sections.value = [{ label: 'New' }, { label: 'Done' }]
  },
)
async function save() {
  let key = ''
  const body = {
    plural: plural.value,
    label: label.value,
    about: about.value || null,
    sections: sections.value.filter((one) => one.label.trim()),
  }
  if (!(await send(async () => (key = (await answerOf(api.POST('/api/setup/lists', { body }))).key)))) return
  emit('close')
  await router.push(`/setup/${key}`)
}
</script>

<template>
  <DialogBox :open="open" title="New list" @close="emit('close')">
    <form @submit.prevent="save">
      <FormRow v-slot="{ id }" label="Name of the list" :wrong="wrong.plural"
        ><input :id="id" v-model="plural" class="input" maxlength="60" placeholder="Winter lay-up"
      /></FormRow>
      <FormRow v-slot="{ id }" label="What one entry is called" :wrong="wrong.label"
        ><input :id="id" v-model="label" class="input" maxlength="60" placeholder="Lay-up"
      /></FormRow>
      <FormRow label="What is put on it" :wrong="wrong.about" plain
        ><SelectBox
          v-model="about"
          :options="[
            { value: '', words: 'entries of its own' },
            { value: 'contact', words: 'contacts' },
            { value: 'deal', words: 'deals' },
            { value: 'ticket', words: 'tickets' },
          ]"
          label="What is put on it"
          wide
      /></FormRow>
      <ChoiceRows v-model="sections" label="Sections, in order" :wrong="wrong.sections" />
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <button type="submit" class="btn btn-go" :disabled="busy">Add the list</button>
    </form>
  </DialogBox>
</template>

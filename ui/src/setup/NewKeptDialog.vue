<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup } from '@/state/setup'
import { useChange } from './useChange'

/** Something new that makes records: what it is called, and what it makes. All else comes after, on its sheet. */
const props = defineProps<{
  open: boolean
  title: string
  hint?: string
  make: (given: { name: string; kind: string }) => Promise<unknown>
}>()
const emit = defineEmits<{ close: [] }>()
const { setup } = useSetup()
const { wrong, busy, send } = useChange()
const name = ref('')
const kinds = computed(() => setup.value.kinds.map((one) => ({ value: one.key, words: one.plural })))
const kind = ref(kinds.value[0]!.value)
watch(
  () => props.open,
  (open) => {
    if (!open) return
    wrong.value = {}
    name.value = ''
  },
)
const add = () => send(() => props.make({ name: name.value, kind: kind.value }))
</script>

<template>
  <DialogBox :open="open" :title="title" @close="emit('close')">
    <form @submit.prevent="add">
      <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name" :hint="hint"
        ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
      /></FormRow>
      <slot :wrong="wrong" />
      <FormRow label="Makes" :wrong="wrong.kind" plain
        ><SelectBox v-model="kind" :options="kinds" label="Makes" wide
      /></FormRow>
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go" :aria-busy="busy">Go on</button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
      </div>
    </form>
  </DialogBox>
</template>

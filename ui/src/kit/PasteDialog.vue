<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { counted } from '@/lib/words'
import DialogBox from '@/parts/DialogBox'
import SelectBox from '@/parts/SelectBox.vue'
import { useSetup, type Kind } from '@/state/setup'
import { readLines, withAdded, type Kit } from './model'

/** Many tasks at once, one a line. What is read from the lines is shown before it is taken. */
const props = defineProps<{ open: boolean; kit: Kit; kind: Kind }>()
const emit = defineEmits<{ close: []; take: [kit: Kit] }>()
const { setup } = useSetup()
const text = ref('')
const phase = ref(0)
watch(
  () => props.open,
  (open) => open && (phase.value = props.kit.phases.length - 1),
)
const tasks = computed(() => readLines(text.value, props.kit, setup.value, props.kind))
const phases = computed(() =>
  props.kit.phases.map((one, index) => ({ value: index, words: one.name || `Phase ${index + 1}` })),
)
function take() {
  emit('take', withAdded(props.kit, phase.value, tasks.value))
  text.value = ''
  emit('close')
}
</script>

<template>
  <DialogBox :open="open" title="Paste a list of tasks" wide @close="emit('close')">
    <form @submit.prevent="take">
      <label class="lab mb-1 block" for="kit-lines">One task a line. Columns after a tab: who, when due, text.</label>
      <textarea
        id="kit-lines"
        v-model="text"
        class="input"
        rows="9"
        placeholder="1. Haul her out&#9;Yard work&#9;5 wd before"
        maxlength="60000"
      />
      <p class="my-2 text-muted">
        Blank lines fall away, and numbers and bullets are taken off.
        {{ text.trim() ? `${counted(tasks.length, 'task')} will be added.` : '' }}
      </p>
      <ul v-if="tasks.length" class="mb-3 max-h-40 overflow-auto border border-line px-2 py-1">
        <li v-for="task in tasks.slice(0, 40)" :key="task.key">
          {{ task.title }} <span v-if="task.text" class="text-muted">{{ task.text }}</span>
        </li>
      </ul>
      <div class="flex flex-wrap items-center gap-2">
        <span v-if="phases.length > 1" class="text-muted">Into</span>
        <SelectBox v-if="phases.length > 1" v-model="phase" :options="phases" label="Phase" />
        <button type="submit" class="btn btn-go" :disabled="!tasks.length">
          {{ tasks.length ? `Add ${counted(tasks.length, 'task')}` : 'Add tasks' }}
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
      </div>
    </form>
  </DialogBox>
</template>

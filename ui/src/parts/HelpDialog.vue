<script setup lang="ts">
import DialogBox from '@/parts/DialogBox'
import KeyCap from '@/parts/KeyCap.vue'

/** The keys of every page. */
defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()

const groups = [
  {
    name: 'Everywhere',
    keys: [
      ['Ctrl K', 'Find a record or go to a page'],
      ['?', 'This list'],
      ['Esc', 'Close what is open'],
    ],
  },
  {
    name: 'Worklist',
    keys: [
      ['J', 'Next task'],
      ['K', 'Task before'],
      ['1 to 9', 'Answer the task'],
      ['D', 'Done'],
      ['P', 'Put off'],
      ['H', 'Pass on (hand over)'],
      ['N', 'Write a note'],
      ['S', 'Start it, or not'],
      ['W', 'It waits, or no more'],
      ['E', 'Put in a ready text'],
      ['M', 'Change what the task says'],
      ['U', 'Take the last step back'],
      ['G', 'Give it back to its queue'],
      ['X', 'Choose it, for several at once'],
      ['F', 'Search and filter'],
      ['T', 'Work through, one by one'],
      ['Q', 'Queues'],
      ['C', 'New task'],
      ['O', 'Open the record'],
    ],
  },
  {
    name: 'Kit sheet',
    keys: [
      ['A', 'Type a task'],
      ['L', 'Paste a list of tasks'],
      ['↑ ↓', 'From task to task'],
      ['Alt ↑ ↓', 'Move the task'],
      ['Del', 'Remove it'],
      ['R', 'How it runs'],
      ['T', 'Try it on a record'],
    ],
  },
  {
    name: 'Rule sheet',
    keys: [
      ['B', 'Add a branch'],
      ['A', 'Add an action to the chosen branch'],
      ['C', 'Ask about another field: a new column'],
      ['Arrows', 'From cell to cell; Enter edits, Esc closes'],
      ['Alt ↑ ↓', 'Move the chosen branch or action'],
      ['Ctrl C, Ctrl V', 'Copy and paste it, also into another rule'],
      ['Del', 'Remove it'],
      ['Ctrl Z, Ctrl Shift Z', 'Undo and redo'],
      ['T', 'Show the try'],
    ],
  },
]
</script>

<template>
  <DialogBox :open="open" title="Keys" @close="$emit('close')">
    <section v-for="group in groups" :key="group.name" class="mb-4">
      <h3 class="mb-1">{{ group.name }}</h3>
      <dl class="grid grid-cols-[90px_1fr] gap-y-1">
        <template v-for="[key, words] in group.keys" :key="key">
          <dt>
            <KeyCap>{{ key }}</KeyCap>
          </dt>
          <dd>{{ words }}</dd>
        </template>
      </dl>
    </section>
    <button type="button" class="btn" @click="$emit('close')">Close</button>
  </DialogBox>
</template>

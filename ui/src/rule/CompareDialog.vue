<script setup lang="ts">
import { computed } from 'vue'
import DialogBox from '@/parts/DialogBox'
import { sentenceCase } from '@/lib/words'
import { useSetup } from '@/state/setup'
import { actionsOf, itemsOf, useRuleWords, type Rule } from './model'
import TitleWords from './TitleWords.vue'

/** Two versions beside each other, each as its table; rows that differ are marked. */
const props = defineProps<{ open: boolean; one: Rule; other: Rule; oneWords: string; otherWords: string }>()
const emit = defineEmits<{ close: [] }>()
const { setup, subjectOf } = useSetup()

const sides = computed(() =>
  [props.one, props.other].map((rule, index) => {
    const beside = index ? props.one : props.other
    const words = useRuleWords(setup.value, subjectOf(rule.record) ?? setup.value.kinds[0]!)
    const rows = [...rule.branches.keys(), ...(rule.otherwise ? [rule.branches.length] : [])]
    return {
      head: sentenceCase(index ? props.otherWords : props.oneWords),
      words,
      onlyIf: itemsOf(rule.only_if).map(words.sentence),
      rows: rows.map((row) => ({
        name: row === rule.branches.length ? '○' : String(row + 1),
        conditions: row === rule.branches.length ? ['otherwise'] : itemsOf(rule.branches[row]!.if).map(words.sentence),
        actions: actionsOf(rule, row).map(words.action),
        differs:
          JSON.stringify(row === rule.branches.length ? rule.otherwise : rule.branches[row]) !==
          JSON.stringify(row === rule.branches.length ? beside.otherwise : beside.branches[row]),
      })),
    }
  }),
)
</script>

<template>
  <DialogBox :open="open" title="Side by side" wide @close="emit('close')">
    <div class="grid gap-4 sm:grid-cols-2">
      <section v-for="side in sides" :key="side.head" class="min-w-0">
        <h3 class="mb-1">{{ side.head }}</h3>
        <p v-if="side.onlyIf.length" class="mb-2 text-sm text-muted">Only if {{ side.onlyIf.join('; ') }}</p>
        <table class="w-full border-collapse border border-line text-sm">
          <tbody>
            <tr
              v-for="row in side.rows"
              :key="row.name"
              class="[&>td]:border-b [&>td]:border-line [&>td]:p-2 [&>td]:align-top"
              :class="row.differs ? 'bg-amber-bg' : ''"
            >
              <td class="w-6 font-mono font-bold">{{ row.name }}</td>
              <td>{{ row.conditions.join('; ') || 'always' }}</td>
              <td class="border-l-4 border-double border-l-pine">
                <div v-for="(action, index) in row.actions" :key="index" class="break-words">
                  <b class="mr-1 text-xs text-pine">{{ action.tag }}</b><TitleWords
                    :text="action.text"
                    :label="side.words.blank"
                  />
                  <span class="text-muted">{{ action.right }}</span>
                </div>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <button type="button" class="btn mt-4" @click="emit('close')">Close</button>
  </DialogBox>
</template>

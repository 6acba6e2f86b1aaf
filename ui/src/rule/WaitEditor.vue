<script setup lang="ts">
import { leaveOut } from '@/lib/leaveOut'
import { computed } from 'vue'
import FormRow from '@/parts/FormRow.vue'
import SelectBox from '@/parts/SelectBox.vue'
import type { Kind } from '@/state/setup'
import DateRuleEditor from './DateRuleEditor.vue'
import GroupEditor from './GroupEditor.vue'
import { type Action, type DateRule, type Group, type Reference } from './model'

/** What the rest of the row waits for: a time, a date, conditions, or whichever of these comes first. */
const props = defineProps<{ references: Reference[]; kind: Kind; wrong: Record<string, string> }>()
const action = defineModel<Action>({ required: true })

const BEGIN = [{ value: 'now', words: 'the wait began' }]
const own = computed(() =>
  props.references.filter((one) => !/^(event|before|task)\./.test(one.path) && one.path !== 'today'),
)
const dates = computed(() =>
  own.value
    .filter((one) => ['date', 'datetime'].includes(one.field.type))
    .map((one) => ({ value: one.path, words: one.label })),
)
function put(changes: Partial<Action>) {
  action.value = leaveOut({ ...action.value, ...changes }, (value) => value === undefined)
}
/** A time counts from when the wait began, whatever the form of other dates says. */
const fromNow = (rule: DateRule | undefined) => rule && { ...rule, from: 'now', direction: 'after' }
</script>

<template>
  <p class="mb-3 text-muted">
    The rest of the row is done later, and only if the conditions of the rule and of this branch still hold then.
    Whichever comes first ends the wait.
  </p>
  <DateRuleEditor
    :model-value="action.for"
    label="Time"
    :references="[]"
    :froms="BEGIN"
    :wrong="wrong.for"
    @update:model-value="(rule) => put({ for: fromNow(rule) })"
  />
  <DateRuleEditor
    :model-value="action.date"
    label="Date of the record"
    :references="[]"
    :froms="dates"
    :wrong="wrong.date"
    @update:model-value="(date) => put({ date })"
  />
  <FormRow label="Until these conditions hold" :wrong="wrong.until" plain>
    <GroupEditor
      v-if="action.until"
      :model-value="action.until"
      :references="own"
      :kind="kind"
      @update:model-value="(until: Group) => put({ until })"
    />
    <button v-if="!action.until" type="button" class="link" @click="put({ until: { all: [] } })">
      Say what must hold
    </button>
    <button v-else type="button" class="link mt-1 text-sm" @click="put({ until: undefined })">No conditions</button>
  </FormRow>
  <DateRuleEditor
    :model-value="action.limit"
    label="Limit"
    :references="[]"
    :froms="BEGIN"
    :wrong="wrong.limit"
    @update:model-value="(rule) => put({ limit: fromNow(rule) })"
  />
  <FormRow v-if="action.limit" label="If that comes first" :wrong="wrong.at_limit" plain
    ><SelectBox
      :model-value="action.at_limit ?? 'go_on'"
      :options="[
        { value: 'go_on', words: 'go on with the row' },
        { value: 'stop', words: 'do nothing more' },
      ]"
      label="If that comes first"
      wide
      @update:model-value="(at_limit) => put({ at_limit: at_limit === 'stop' ? 'stop' : undefined })"
  /></FormRow>
</template>

<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import DialogBox from '@/parts/DialogBox'
import FormRow from '@/parts/FormRow.vue'

/**
 * Texts for notes, put in with a few keys: part of the name and Enter. The first blank ___ is then marked, so that
 * typing fills it.
 */
const props = defineProps<{ box: HTMLTextAreaElement | null }>()
const emit = defineEmits<{ insert: [text: string] }>()
const presets = ref<Schemas['Preset'][]>([])
const open = ref(false)
const text = ref('')
const at = ref(0)
const editing = ref<{ id: number | null; name: string; text: string } | null>(null)
const wrong = ref<Record<string, string>>({})

async function show() {
  try {
    presets.value = (await answerOf(api.GET('/api/presets', {}))).presets
  } catch (problem) {
    wrong.value = { name: sentenceOf(problem) }
  }
  text.value = ''
  at.value = 0
  open.value = true
}
const found = computed(() => {
  const words = text.value.toLowerCase()
  return presets.value.filter((one) => `${one.name} ${one.text}`.toLowerCase().includes(words))
})
async function take(preset: Schemas['Preset'] | undefined) {
  if (!preset) return
  open.value = false
  emit('insert', preset.text)
  await nextTick()
  // The dialog gives the focus back when it is gone.
  requestAnimationFrame(() => {
    const box = props.box
    const blank = box ? /_{3,}/.exec(box.value) : null
    box?.focus()
    if (box && blank) box.setSelectionRange(blank.index, blank.index + blank[0].length)
  })
}
async function save() {
  const { id, ...body } = editing.value!
  try {
    const fresh = id
      ? await answerOf(api.PUT('/api/presets/{id}', { params: { path: { id } }, body }))
      : await answerOf(api.POST('/api/presets', { body }))
    presets.value = fresh.presets
    editing.value = null
    wrong.value = {}
  } catch (problem) {
    wrong.value = (problem instanceof ApiError && problem.refusal.fields) || { name: sentenceOf(problem) }
  }
}
async function remove(id: number) {
  try {
    presets.value = (await answerOf(api.DELETE('/api/presets/{id}', { params: { path: { id } } }))).presets
  } catch (problem) {
    wrong.value = { name: sentenceOf(problem) }
  }
}
defineExpose({ show })
</script>

<template>
  <button type="button" class="link text-sm" @click="show">Put in a ready text</button>
  <DialogBox :open="open" title="Ready texts for notes" @close="open = false">
    <form v-if="editing" @submit.prevent="save">
      <FormRow v-slot="{ id }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="editing.name" class="input" maxlength="60"
      /></FormRow>
      <FormRow
        v-slot="{ id }"
        label="Text"
        :wrong="wrong.text"
        hint="A blank to fill in is written as ___. It may hold a !code."
      >
        <textarea :id="id" v-model="editing.text" class="input" rows="4" maxlength="2000" />
      </FormRow>
      <div class="flex gap-2">
        <button type="submit" class="btn btn-go">Keep it</button>
        <button type="button" class="btn btn-quiet" @click="editing = null">Leave it</button>
      </div>
    </form>
    <template v-else>
      <input
        v-model="text"
        class="input"
        placeholder="Type part of its name, then Enter"
        aria-label="Find a ready text"
        @input="at = 0"
        @keydown.down.prevent="at = Math.min(at + 1, found.length - 1)"
        @keydown.up.prevent="at = Math.max(at - 1, 0)"
        @keydown.enter.prevent="take(found[at])"
      />
      <p v-if="wrong.name" class="mt-1 text-red" role="alert">{{ wrong.name }}</p>
      <ul class="my-2 max-h-72 overflow-auto">
        <li
          v-for="(one, index) in found"
          :key="one.id"
          class="flex items-start justify-between gap-2 border-b border-line px-2 py-[5px]"
          :class="index === at ? 'bg-chosen' : ''"
        >
          <button type="button" class="min-w-0 text-left" @click="take(one)">
            <b class="font-semibold">{{ one.name }}</b> <span class="block text-muted">{{ one.text }}</span>
          </button>
          <span v-if="one.mine" class="flex gap-2 text-sm whitespace-nowrap">
            <button type="button" class="link" @click="editing = { id: one.id, name: one.name, text: one.text }">
              Change
            </button>
            <button type="button" class="link" :aria-label="`Remove ${one.name}`" @click="remove(one.id)">
              Remove
            </button>
          </span>
        </li>
        <li v-if="!found.length" class="px-2 py-1 text-muted">
          {{ presets.length ? 'None has these words.' : 'No ready texts yet. Write the first.' }}
        </li>
      </ul>
      <div class="flex gap-2">
        <button type="button" class="btn btn-quiet" @click="editing = { id: null, name: '', text: '' }">
          Write another
        </button>
        <button type="button" class="btn btn-quiet" @click="open = false">Close</button>
      </div>
    </template>
  </DialogBox>
</template>

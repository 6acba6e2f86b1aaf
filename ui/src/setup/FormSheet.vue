<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { computed } from 'vue'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import FormAsks from './FormAsks.vue'
import FormBar from './FormBar.vue'
import FormFixed from './FormFixed.vue'
import { useFormSheet } from './useFormSheet'
import UsesNote from './UsesNote.vue'

/** One form: its words, what it asks, what it fills in itself, who may show it; beside it, how visitors see it. */
const props = defineProps<{ formKey: string }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { kindOf } = useSetup()
const { copy } = useClipboard({ legacy: true })
const { sheet, draft, name, html, typed, lost, wrongAt, wrong, busy, leaning, save, publish, setOpen, lookAt, retire } =
  useFormSheet(props.formKey)

const usual = computed(() => sheet.value?.usual ?? {})
const published = computed(() => !!sheet.value?.number)
const kind = computed(() => sheet.value && kindOf(sheet.value.kind))
const links = computed(() => [
  { value: '', words: 'no contact' },
  ...(kind.value?.fields ?? [])
    .filter((field) => field.type === 'link' && field.links_to === 'contact' && !field.formula)
    .map((field) => ({ value: field.key, words: field.label })),
])
const contact = computed({
  get: () => draft.value.contact ?? '',
  set: (key) => (draft.value.contact = key || null),
})
const items = computed({ get: () => draft.value.items ?? [], set: (all) => (draft.value.items = all) })
const fixed = computed({ get: () => draft.value.fixed ?? {}, set: (all) => (draft.value.fixed = all) })
const origins = computed({ get: () => draft.value.origins ?? [], set: (all) => (draft.value.origins = all) })
const asked = computed(() => items.value.map((one) => one.ask))
const address = computed(() => (sheet.value ? location.origin + sheet.value.address : ''))
const frame = computed(() => `<iframe src="${address.value}" title="${name.value}" width="100%" height="900"></iframe>`)
const stateWords = computed(() => {
  if (!sheet.value?.number) return 'Draft. Nobody outside sees it yet.'
  const shown = sheet.value.closed ? 'Closed' : `Visitors see version ${sheet.value.number}`
  return sheet.value.differs || typed.value ? `${shown}; the draft says something else.` : `${shown}.`
})
const ready = computed(() => !Object.keys(wrongAt.value).length)
const problemAtOrigins = computed(() =>
  Object.entries(wrongAt.value)
    .filter(([key]) => key.startsWith('origins'))
    .map(([, sentence]) => sentence)
    .join(' '),
)
async function copied(text: string, said: string) {
  await copy(text)
  say(said)
}
async function takeAway() {
  if (!(await retire())) return
  say(`${name.value} is taken away. It can be brought back from here.`)
  emit('close')
}
</script>

<template>
  <TroubleBox v-if="lost" :text="lost" @retry="emit('close')" />
  <div v-if="sheet" class="grid gap-6 2xl:grid-cols-[minmax(0,1fr)_24rem] xl:grid-cols-[minmax(0,1fr)_20rem]">
    <form class="min-w-0" @submit.prevent="save">
      <div class="mb-1 flex flex-wrap items-center gap-2">
        <h2 class="text-lg font-semibold">{{ sheet.name }}</h2>
        <span class="text-muted">makes {{ kind?.plural ?? 'entries of a list that was taken away' }}</span>
      </div>
      <p class="mb-3" data-test="form-state">
        <b>{{ stateWords }}</b>
        <template v-if="sheet.number"
          >{{ ' ' }}<a class="link" :href="sheet.address" target="_blank" rel="noopener">Look at it</a>{{ ' · '
          }}<button type="button" class="link" @click="copied(address, 'The address is copied.')">
            Copy the address
          </button></template
        >
      </p>
      <UsesNote :of="`form ${sheet.key}`" doing="They ask which form was sent." />
      <div class="grid gap-x-3 sm:grid-cols-2">
        <FormRow v-slot="{ id, describedby }" label="Name, for the house alone" :wrong="wrong.name"
          ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
        /></FormRow>
        <FormRow v-slot="{ id, describedby }" label="Heading" :wrong="wrongAt.heading"
          ><input :id="id" v-model="draft.heading" class="input" maxlength="120" :aria-describedby="describedby"
        /></FormRow>
      </div>
      <FormRow v-slot="{ id, describedby }" label="Words before the first question" :wrong="wrongAt.intro">
        <textarea :id="id" v-model="draft.intro" class="input" rows="2" :aria-describedby="describedby" />
      </FormRow>
      <template v-if="kind">
        <FormRow
          v-if="links.length > 1"
          label="Who sends it stands in the record as"
          :wrong="wrongAt.contact"
          hint="The contact of that e-mail, found or made. What stands on a contact already stays as it is."
          plain
          ><SelectBox v-model="contact" :options="links" label="Who sends it stands in the record as" wide
        /></FormRow>
        <h3 class="mt-4 mb-1">What it asks</h3>
        <FormAsks v-model="items" :kind="kind" :linked="contact !== ''" :wrong="wrongAt" />
        <h3 class="mt-5 mb-1">What it fills in itself</h3>
        <p class="mb-2 text-sm text-muted">Visitors see nothing of this.</p>
        <p v-if="wrongAt.fixed" class="mb-2 text-sm text-red" role="alert">{{ wrongAt.fixed }}</p>
        <FormFixed v-model="fixed" :kind="kind" :asked="asked" :wrong="wrongAt" />
      </template>
      <h3 class="mt-5 mb-1">Before and after sending</h3>
      <FormRow
        v-slot="{ id, describedby }"
        label="To be agreed to"
        :wrong="wrongAt.consent"
        hint="Visitors tick it before they send; empty, nothing has to be ticked."
      >
        <textarea :id="id" v-model="draft.consent" class="input" rows="2" :aria-describedby="describedby" />
      </FormRow>
      <FormRow v-slot="{ id, describedby }" label="On the button" :wrong="wrongAt.button"
        ><input
          :id="id"
          v-model="draft.button"
          class="input"
          maxlength="40"
          :placeholder="usual.button"
          :aria-describedby="describedby"
      /></FormRow>
      <FormRow v-slot="{ id, describedby }" label="Thanks" :wrong="wrongAt.thanks">
        <textarea
          :id="id"
          v-model="draft.thanks"
          class="input"
          rows="2"
          :placeholder="usual.thanks"
          :aria-describedby="describedby"
        />
      </FormRow>
      <FormRow v-slot="{ id, describedby }" label="While it is closed" :wrong="wrongAt.closed">
        <textarea
          :id="id"
          v-model="draft.closed"
          class="input"
          rows="2"
          :placeholder="usual.closed"
          :aria-describedby="describedby"
        />
      </FormRow>
      <h3 class="mt-5 mb-1">Within other pages</h3>
      <FormRow
        v-slot="{ id }"
        label="Sites that may show it, one a line"
        :wrong="problemAtOrigins"
        hint="Such as https://www.example.org, without a path."
        ><LinesInput :id="id" v-model="origins" :most="20"
      /></FormRow>
      <p v-if="published && origins.length" class="mb-3 text-sm">
        <button type="button" class="link" @click="copied(frame, 'The lines for a page are copied.')">
          Copy the lines for a page
        </button>
      </p>
      <p v-if="wrong[''] || wrong.form" class="mb-3 text-red" role="alert">{{ wrong[''] || wrong.form }}</p>
      <p v-if="!ready" class="mb-3 border border-amber bg-amber-bg px-3 py-2 text-amber" role="status">
        Something is to be put right before it can be published; it is said where it stands.
        <template v-if="wrongAt.kind">The list whose entries it makes was taken away.</template>
      </p>
      <FormBar
        v-if="sheet"
        :sheet="sheet"
        :ready="ready"
        :typed="typed"
        :busy="busy"
        :anyway="leaning && !!wrong.form"
        @publish="publish"
        @back="emit('close')"
        @open="setOpen"
        @away="takeAway"
        @look="lookAt"
      />
    </form>
    <section aria-label="How visitors see it" class="min-w-0 xl:sticky xl:top-3 xl:self-start">
      <h3 class="lab mb-1">How visitors see it</h3>
      <iframe
        v-if="html"
        :srcdoc="html"
        sandbox="allow-same-origin"
        title="How visitors see it"
        class="h-[44rem] max-h-[calc(100vh-8rem)] w-full border border-pine bg-paper"
      />
      <p v-else class="text-muted">It can be shown when the list whose entries it makes is there.</p>
    </section>
  </div>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import { useNotices } from '@/lib/useNotices'
import FormRow from '@/parts/FormRow.vue'
import LinesInput from '@/parts/LinesInput.vue'
import SelectBox from '@/parts/SelectBox.vue'
import TroubleBox from '@/parts/TroubleBox.vue'
import { useSetup } from '@/state/setup'
import { guess, HOW_WORDS, keysOf } from './doorMap'
import DoorRows from './DoorRows.vue'
import { useDoorSheet } from './useDoorSheet'

/** One door: where a program sends, a message as it looks, and the table that says what becomes of it. */
const props = defineProps<{ doorKey: string; freshSecret: string }>()
const emit = defineEmits<{ close: [] }>()
const { say } = useNotices()
const { kindOf } = useSetup()
const { sheet, name, map, perMinute, sample, read, secret, lost, tried, wrongAt, wrong, busy, save, renew, retire } =
  useDoorSheet(props.doorKey)
const kind = computed(() => sheet.value && kindOf(sheet.value.kind))
const address = computed(() => (sheet.value ? location.origin + sheet.value.address : ''))
const shownSecret = computed(() => secret.value || props.freshSecret)
const isOpen = computed(() => sheet.value?.open === true)
const keys = computed(() => keysOf(kind.value ?? undefined).map((one) => ({ value: one.key, words: one.label })))
const how = computed({
  get: () => map.value.how,
  set: (given) => {
    map.value.how = given
    map.value.key = given === 'make' ? null : (map.value.key ?? keys.value[0]?.value ?? null)
  },
})
const foundBy = computed({ get: () => map.value.key ?? '', set: (key) => (map.value.key = key || null) })
const opened = () => save(true, `${name.value} is open.`)
const fieldsWrong = computed(() => (read.value.message ? (tried.value?.wrong ?? {}) : {}))
const fill = () => (map.value.rows = guess(kind.value!, read.value.message!))
async function takeAway() {
  if (!(await retire())) return
  say(`${name.value} is taken away. It can be brought back from here.`)
  emit('close')
}
</script>

<template>
  <TroubleBox v-if="lost" :text="lost" @retry="emit('close')" />
  <form v-if="sheet" class="grid gap-x-8 xl:grid-cols-2" @submit.prevent="save(isOpen, `${name} is saved.`)">
    <div class="xl:col-span-2">
      <h2 class="text-lg font-semibold">{{ sheet.name }}</h2>
      <p class="mb-3" data-test="door-state">
        <b>{{ isOpen ? 'Open.' : 'Shut: nothing is taken.' }}</b>
        What comes in becomes {{ kind?.plural ?? 'entries of a list that was taken away' }}.
      </p>
    </div>
    <div class="min-w-0">
      <p class="lab mb-1">Where the program sends</p>
      <p class="mb-1 break-all">
        <code class="font-mono text-sm select-all">{{ address }}</code>
      </p>
      <p class="mb-3 text-sm text-muted">
        As CloudEvents 1.0, with the header <code class="font-mono">Authorization: Bearer</code> and the secret, or
        signed with it (webhook-id, webhook-timestamp, webhook-signature).
        <button type="button" class="link" @click="renew">Make another secret</button>
      </p>
      <p v-if="shownSecret" class="mb-3 border border-amber bg-amber-bg px-3 py-2" role="status">
        The secret, shown this once: <code class="font-mono break-all select-all">{{ shownSecret }}</code>
      </p>
      <FormRow v-slot="{ id, describedby }" label="Name" :wrong="wrong.name"
        ><input :id="id" v-model="name" class="input" maxlength="120" :aria-describedby="describedby"
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        label="A message as it looks"
        :wrong="read.wrong"
        hint="The last that came, or one that you paste. With it the table can be filled and tried."
      >
        <textarea
          :id="id"
          v-model="sample"
          class="input font-mono text-xs"
          rows="14"
          spellcheck="false"
          :aria-describedby="describedby"
        />
      </FormRow>
      <FormRow
        v-slot="{ id }"
        label="Types that are taken, one a line"
        :wrong="wrongAt.types"
        hint="Empty takes all. A type is what the event says of itself."
        ><LinesInput :id="id" v-model="map.types" :most="50"
      /></FormRow>
      <FormRow
        v-slot="{ id, describedby }"
        label="Calls a minute, at most"
        :wrong="wrong.per_minute"
        hint="Empty takes 120."
        ><input :id="id" v-model="perMinute" class="input" inputmode="numeric" :aria-describedby="describedby"
      /></FormRow>
    </div>
    <div class="min-w-0">
      <FormRow label="Each event" :wrong="wrongAt.how" plain
        ><SelectBox v-model="how" :options="[...HOW_WORDS]" label="Each event" wide
      /></FormRow>
      <FormRow v-if="how !== 'make'" label="It is found by" :wrong="wrongAt.key" plain
        ><SelectBox v-model="foundBy" :options="keys" label="It is found by" wide
      /></FormRow>
      <div class="mb-1 flex items-center gap-3">
        <h3>What goes where</h3>
        <button v-if="kind && read.message && !map.rows.length" type="button" class="btn" @click="fill">
          Fill it from the message
        </button>
      </div>
      <DoorRows
        v-if="kind"
        v-model="map.rows"
        :kind="kind"
        :message="read.message"
        :wrong="wrongAt"
        :shown="tried?.values ?? {}"
        :refused="fieldsWrong"
      />
      <p v-if="wrongAt.kind" class="text-red" role="alert">{{ wrongAt.kind }}</p>
      <p v-if="tried?.record" class="mt-2 text-sm">
        This message would change
        <RouterLink class="link" :to="`/record/${tried.record.id}`">{{ tried.record.title }}</RouterLink>.
      </p>
    </div>
    <div class="mt-4 xl:col-span-2">
      <p v-if="wrong['']" class="mb-3 text-red" role="alert">{{ wrong[''] }}</p>
      <div class="flex flex-wrap items-center gap-2">
        <button v-if="!isOpen" type="button" class="btn btn-go" :aria-busy="busy" @click="opened">
          Save and open it
        </button>
        <button type="submit" class="btn" :class="isOpen ? 'btn-go' : ''" :aria-busy="busy">Save</button>
        <button v-if="isOpen" type="button" class="btn" :aria-busy="busy" @click="save(false, `${name} is shut.`)">
          Shut it
        </button>
        <button type="button" class="btn btn-quiet" @click="emit('close')">Back</button>
        <button type="button" class="btn btn-quiet ml-auto" :aria-busy="busy" @click="takeAway">Take it away</button>
      </div>
    </div>
  </form>
</template>

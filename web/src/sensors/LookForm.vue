<script setup lang="ts">
/** Numbers read off a display, an app or the caps: evidence at their own uncertainty, never a round. */
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Presses from '@/shared/Presses.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import type { Entry } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import type { Sensors } from './queries'

const props = defineProps<{ told: Sensors }>()
/** Which of what the server knows it may have done before; the first: nobody said. */
const did = ref(0)
const lately = computed(() => props.told.lately.map(({ name }, key) => ({ key, name })))
const source = ref<Schemas['GlanceOut']['source']>('display')
const sources = computed(() =>
  Object.entries(props.told.sources).map(([key, name]) => ({ key: key as typeof source.value, name })),
)
/** What nobody said may be heard. */
const heard = computed(() => props.told.axles.flatMap((a) => a.wheels.filter((w) => w.hears !== false)))
const typed = ref<Record<string, Entry>>({})
const numbers = computed(() =>
  heard.value.flatMap((w) => {
    const pressure = typed.value[w.code]
    return pressure === null || pressure === undefined ? [] : [{ wheel: w.code, pressure }]
  }),
)
const once = useOnce()
const { save, busy, fields, message } = useSave(async () => {
  const { stood_h, rolled_min } = props.told.lately[did.value]!
  const body = { source: source.value, numbers: numbers.value, stood_h, rolled_min } as Schemas['GlanceIn']
  const path = { rig_id: props.told.rig, uuid: once.idOf(body) }
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/glances/{uuid}', { params: { path }, body }))
  once.stored()
  typed.value = {}
  queries.setQueryData(['rig', props.told.rig, 'sensors'], now)
  await refreshRig(props.told.rig)
})
const route = useRoute()
const form = ref<HTMLElement>()
/** Come for the numbers: the first field is at hand at once. */
onMounted(() => {
  if (route.hash === '#glance') form.value?.querySelector('input')?.focus()
})
const messageOf = (code: string) => {
  const at = numbers.value.findIndex((n) => n.wheel === code)
  return fields.value[`numbers.${at}.pressure`]
}
const elsewhere = computed(() =>
  fields.value.numbers && !numbers.value.length ? 'Enter what one wheel shows at least.' : fields.value.air,
)
</script>

<template>
  <EntryForm class="max-w-3xl" @submit="save()">
    <div class="flex flex-wrap gap-x-6 gap-y-2">
      <div class="flex flex-wrap gap-1.5" role="group" aria-label="Read off">
        <Presses v-model="source" look="chip min-h-11 px-3" :choices="sources" />
      </div>
      <div class="flex flex-wrap gap-1.5" role="group" aria-label="How it stood or rolled">
        <Presses v-model="did" look="chip min-h-11 px-3" :choices="lately" />
      </div>
    </div>
    <div ref="form" class="mt-3 grid grid-cols-2 gap-3 sm:grid-cols-4">
      <QuantityField
        v-for="w in heard"
        :key="w.code"
        :model-value="typed[w.code] ?? null"
        :label="w.name"
        kind="pressure"
        :message="messageOf(w.code)"
        @update:model-value="(v) => (typed = { ...typed, [w.code]: v })"
      />
    </div>
    <button class="button button-next mt-3" :disabled="busy">Keep these numbers</button>
    <Refusal :message="elsewhere || (Object.keys(fields).length ? '' : message)" />
  </EntryForm>
</template>

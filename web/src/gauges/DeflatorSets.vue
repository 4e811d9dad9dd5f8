<script setup lang="ts">
/** Sets of preset deflators: where they close, as they were set and as they were compared. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { show, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

type Deflators = Schemas['DeflatorsOut']
const props = defineProps<{ gauges: Schemas['GaugeOut'][] }>()
const { may, session } = useSession()
const { data } = useQuery({ queryKey: ['deflators'], queryFn: () => answer(api.GET('/api/v1/deflators')) })
const editing = ref<number | 'new' | null>(null)
const BLANK = {
  version: '',
  label: '',
  count: '4',
  set_kpa: null as Entry,
  role: '' as Deflators['role'],
  surface: '',
  retired: false,
}
const form = reactive({ ...BLANK })
const roles = computed(() => [{ key: '', name: 'Any wheel' }, ...(session.value?.ground_roles ?? [])])
const ground = useQuery({ queryKey: ['surfaces'], queryFn: () => answer(api.GET('/api/v1/surfaces')) })
// The road lets nothing out.
const surfaces = computed(() => [{ key: '', name: 'Any surface' }, ...(ground.data.value?.surfaces.slice(1) ?? [])])
const setFor = (d: Deflators) =>
  [
    d.role && roles.value.find((r) => r.key === d.role)?.name.toLowerCase(),
    d.surface && (surfaces.value.find((s) => s.key === d.surface)?.name.toLowerCase() ?? 'a surface that is gone'),
  ]
    .filter(Boolean)
    .join(', ')
function open(d: Deflators | null) {
  editing.value = d ? d.id : 'new'
  Object.assign(form, d ? { ...BLANK, ...d, count: String(d.count) } : BLANK)
}
const again = () => queries.invalidateQueries({ queryKey: ['deflators'] })
const { save, busy, fields, message, newer } = useSave(async () => {
  const body = {
    version: newer.value || form.version, label: form.label, count: form.count, set_kpa: form.set_kpa, role: form.role,
    surface: form.surface, retired: form.retired,
  } as unknown as Schemas['DeflatorsIn'] // prettier-ignore
  if (editing.value === 'new') await answer(api.POST('/api/v1/deflators', { body }))
  else await answer(api.PUT('/api/v1/deflators/{set_id}', { params: { path: { set_id: editing.value! } }, body }))
  editing.value = null
  await again()
})
const comparing = ref<number | null>(null)
const closing = reactive({ gauge: props.gauges[0]?.id ?? null, pressure: null as Entry })
const compare = useSave(async () => {
  const body = { ...closing } as unknown as Schemas['ClosingIn']
  await answer(
    api.POST('/api/v1/deflators/{set_id}/closings', { params: { path: { set_id: comparing.value! } }, body }),
  )
  closing.pressure = null
  await again()
})
</script>

<template>
  <section class="mt-8">
    <div class="flex flex-wrap items-center justify-between gap-4">
      <h2>Deflators</h2>
      <button v-if="may('gauges')" type="button" class="button" @click="open(null)">Add a set</button>
    </div>
    <EntryForm
      v-if="editing"
      :refused="fields"
      class="mt-3 grid max-w-4xl items-start gap-3 border-l-4 border-buoy bg-paper px-4 py-3 sm:grid-cols-5"
      @submit="save()"
    >
      <TextField v-model="form.label" label="Label" name="label" />
      <TextField v-model="form.count" label="How many" inputmode="numeric" name="count" />
      <QuantityField v-model="form.set_kpa" label="Close at" kind="pressure" name="set_kpa" />
      <ChoiceField v-model="form.role" label="For" :choices="roles" name="role" />
      <ChoiceField v-model="form.surface" label="On" :choices="surfaces" name="surface" />
      <div class="flex gap-4 sm:col-span-5">
        <button class="button button-next" :disabled="busy">Save</button>
        <button type="button" class="link" @click="editing = null">Leave it</button>
      </div>
      <Refusal :message="message" />
    </EntryForm>
    <p v-if="data && !data.length && !editing" class="text-soft">
      None. A set lets several tires out at once, and closes by itself.
    </p>
    <ul v-if="data?.length" class="mt-2">
      <li v-for="d in data" :key="d.id" class="border-t border-hairline py-2">
        <div class="flex flex-wrap items-baseline gap-x-5">
          <b>{{ d.label }}</b>
          <span
            >{{ d.count }} closing at <b class="text-xl">{{ show('pressure', d.closes_kpa) }}</b> ±
            {{ show('pressure', d.within_kpa, 'up') }}</span
          >
          <span class="text-soft"
            >{{ d.compared ? 'compared' : 'never compared' }}{{ setFor(d) ? `, ${setFor(d)}` : ''
            }}{{ d.retired ? ', retired' : '' }}</span
          >
          <template v-if="may('gauges')">
            <button type="button" class="link" @click="comparing = comparing === d.id ? null : d.id">Compare it</button>
            <button type="button" class="link" @click="open(d)">Change</button>
          </template>
        </div>
        <EntryForm
          v-if="comparing === d.id"
          :refused="compare.fields.value"
          class="mt-2 flex flex-wrap items-start gap-3"
          @submit="compare.save()"
        >
          <p class="basis-full text-sm text-soft">
            Let one tire out with it until it closes, cold, and read what is left.
          </p>
          <ChoiceField
            v-model="closing.gauge"
            class="w-48"
            label="Read with"
            :choices="gauges.filter((g) => !g.retired).map((g) => ({ key: g.id as number | null, name: g.label }))"
            name="gauge"
          />
          <QuantityField v-model="closing.pressure" class="w-40" label="What is left" kind="pressure" name="pressure" />
          <button class="button button-next mt-6" :disabled="compare.busy.value">Keep it</button>
          <p v-if="d.closings.length" class="mt-8 text-sm text-soft">
            so far {{ d.closings.map((c) => c.typed).join(', ') }}
          </p>
        </EntryForm>
      </li>
    </ul>
  </section>
</template>

<script setup lang="ts">
/** The targets of many rigs, put in force where nothing contradicts: told before what each axle gets, and taken back after. */
import { computed, onUnmounted, reactive } from 'vue'
import { v4 as newUuid } from 'uuid'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { say, show, toward } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ rigs: number[] }>()
const emit = defineEmits<{ done: [] }>()
/** So many are asked for at once, and of what they get so many are shown. */
const SLICE = 25
const SHOWN = 100
type Looked = Schemas['LookedOut']

const seen = reactive({ looked: [] as Looked[], fits: 0, done: 0 })
const put = reactive({ sets: [] as number[], not: [] as Schemas['NotDoneOut'][], done: 0 })
let left = false
onUnmounted(() => (left = true))
const shown = (kpa: number | null, ceiling: number | null) =>
  kpa === null ? 'none' : show('pressure', kpa, toward(kpa, ceiling))
/** The same number may be put in force anew, from what is known now. */
function before(a: Schemas['MovedOut']) {
  const now = shown(a.now_kpa, a.now_ceiling_kpa)
  return now === shown(a.target_kpa, a.ceiling_kpa) ? 'stays' : `${now} →`
}
const spoken = (n: number) => `${n.toLocaleString('en-US')} ${n === 1 ? 'rig' : 'rigs'}`
const ready = computed(() => seen.looked.filter((r) => !r.words))
const against = computed(() => seen.looked.filter((r) => r.words))
const stamps = computed(() => [...new Set(ready.value.flatMap((r) => r.stamps))])
const whole = computed(() => seen.done === props.rigs.length)
const over = computed(() => whole.value && put.done > 0 && put.done === ready.value.length)

/** What failed is gone on from where it stands. */
const { save: look, message: notSeen } = useSave(async () => {
  while (!whole.value && !left) {
    const slice = props.rigs.slice(seen.done, seen.done + SLICE)
    const said = await answer(api.POST('/api/v1/work/targets/many', { body: { rigs: slice } }))
    seen.looked.push(...said.rigs)
    seen.fits += said.fits
    seen.done += slice.length
  }
})
void look()

/** Each under a UUID of its own: sent again after an answer that got lost, nothing is put in force twice. */
const uuids = new Map<number, string>()
const uuidOf = (rig: number) => uuids.get(rig) ?? uuids.set(rig, newUuid()).get(rig)!
const {
  save,
  busy,
  message: notPut,
} = useSave(async () => {
  while (!over.value) {
    const slice = ready.value.slice(put.done, put.done + SLICE)
    const told = slice.map((r) => ({
      rig: r.rig,
      uuid: uuidOf(r.rig),
      told_kpa: r.axles.map((a) => a.target_kpa!),
    }))
    const made = await answer(api.POST('/api/v1/targets/many', { body: { rigs: told } }))
    put.sets.push(...made.sets)
    put.not.push(...made.not_done)
    put.done += slice.length
  }
  await refreshAll()
})
const { save: undo, message: notBack } = useSave(async () => {
  await answer(api.POST('/api/v1/targets/withdrawn', { body: { sets: put.sets } }))
  await refreshAll()
  emit('done')
})
</script>

<template>
  <div class="border-l-4 border-teal bg-paper px-4 py-3">
    <p v-if="stamps.length && !over" class="mb-2 flex flex-wrap gap-3">
      <span v-for="s in stamps" :key="s" class="stamp">{{ s }}</span>
    </p>
    <div class="flex flex-wrap items-center gap-x-5 gap-y-2">
      <p role="status">
        <template v-if="!whole">Working them out, {{ seen.done }} of {{ spoken(rigs.length) }}.</template>
        <b v-else-if="put.done">Targets put in force for {{ spoken(put.sets.length) }}.</b>
        <template v-else>
          <b>{{
            ready.length ? `${spoken(ready.length)} would get these` : 'None would get other targets'
          }}</b><template v-if="seen.fits"
            >; {{ spoken(seen.fits) }} {{ seen.fits === 1 ? 'has its own' : 'have theirs' }} already</template
          >.
        </template>
      </p>
      <progress
        v-if="!whole || busy"
        :value="whole ? put.done : seen.done"
        :max="whole ? ready.length : rigs.length"
        :aria-label="whole ? 'How many are put in force' : 'How many are worked out'"
      />
      <button
        v-if="whole && ready.length && !over"
        type="button"
        class="button button-next"
        :disabled="busy"
        @click="save()"
      >
        Put them in force for {{ spoken(ready.length - put.done) }}
      </button>
      <button v-if="notSeen" type="button" class="button" @click="look()">Go on</button>
      <button v-if="put.sets.length && !busy" type="button" class="link" @click="undo()">Take that back</button>
      <button type="button" class="link" @click="emit('done')">{{ put.done ? 'Done' : 'Not now' }}</button>
    </div>
    <Refusal :message="notSeen || notPut || notBack" />
    <Opening v-if="put.not.length" :label="`${put.not.length} not`">
      <p v-for="n in put.not" :key="n.rig">
        <b>{{ n.name }}</b> {{ n.words }}
      </p>
    </Opening>
    <template v-if="whole && !over">
      <ul v-if="ready.length" class="mt-3 max-h-72 overflow-auto border-t border-hairline">
        <li
          v-for="r in ready.slice(0, SHOWN)"
          :key="r.rig"
          class="flex flex-wrap gap-x-6 border-b border-hairline py-1.5"
        >
          <b class="min-w-40">{{ r.name }}</b>
          <span v-for="a in r.axles" :key="a.name"
            ><span class="text-soft">{{ a.name }}</span> {{ before(a) }}
            <b>{{ shown(a.target_kpa, a.ceiling_kpa) }}</b></span
          >
        </li>
        <li v-if="ready.length > SHOWN" class="py-1.5 text-soft">and {{ spoken(ready.length - SHOWN) }} more</li>
      </ul>
      <Opening v-if="against.length" :label="`${spoken(against.length)} left as they are`" class="mt-2">
        <ul class="max-h-60 overflow-auto">
          <li v-for="r in against" :key="r.rig" class="py-0.5">
            <RouterLink :to="{ name: 'targets', params: { id: r.rig } }">{{ r.name }}</RouterLink>
            {{ say(r.words!) }}
          </li>
        </ul>
      </Opening>
    </template>
  </div>
</template>

<script setup lang="ts">
/** The targets of many rigs, put in force where nothing contradicts: told before what each axle gets, and taken back after. */
import { computed, onUnmounted, reactive, ref } from 'vue'
import { v4 as newUuid } from 'uuid'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { say, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ rigs: number[] }>()
const emit = defineEmits<{ done: [] }>()
/** So many are asked for at once, and of what they get so many are shown. */
const SLICE = 25
const SHOWN = 100
type Looked = Schemas['LookedOut']

const seen = reactive({ looked: [] as Looked[], fits: 0, of: 0, done: 0 })
const put = reactive({ sets: [] as number[], not: [] as Schemas['NotDoneOut'][], done: 0 })
const over = ref(false)
let stop = false
onUnmounted(() => (stop = true))
const spoken = (n: number) => `${n.toLocaleString('en-US')} ${n === 1 ? 'rig' : 'rigs'}`
const ready = computed(() => seen.looked.filter((r) => !r.words))
const against = computed(() => seen.looked.filter((r) => r.words))
const stamps = computed(() => [...new Set(ready.value.flatMap((r) => r.stamps))])
const whole = computed(() => seen.of > 0 && seen.done === seen.of)

const { save: look, message } = useSave(async () => {
  const asked = [...props.rigs]
  Object.assign(seen, { looked: [], fits: 0, of: asked.length, done: 0 })
  for (let at = 0; at < asked.length && !stop; at += SLICE) {
    const slice = asked.slice(at, at + SLICE)
    const said = await answer(api.POST('/api/v1/work/targets/many', { body: { rigs: slice } }))
    seen.looked.push(...said.rigs)
    seen.fits += said.fits
    seen.done += slice.length
  }
})
void look()

/** Each under a UUID of its own: pressed again after an answer that got lost, nothing is put in force twice. */
const uuids = new Map<number, string>()
const uuidOf = (rig: number) => uuids.get(rig) ?? uuids.set(rig, newUuid()).get(rig)!
const {
  save,
  busy,
  message: no,
} = useSave(async () => {
  Object.assign(put, { sets: [], not: [], done: 0 })
  for (let at = 0; at < ready.value.length; at += SLICE) {
    const slice = ready.value.slice(at, at + SLICE)
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
  over.value = true
  await refreshAll()
})
const { save: undo, message: not } = useSave(async () => {
  await answer(api.POST('/api/v1/targets/withdrawn', { body: { sets: put.sets } }))
  await refreshAll()
  emit('done')
})
</script>

<template>
  <div class="border-l-4 border-teal bg-paper px-4 py-3">
    <div v-if="over" role="status">
      <p class="flex flex-wrap items-center gap-x-5">
        <b>Targets put in force for {{ spoken(put.sets.length) }}.</b>
        <button v-if="put.sets.length" type="button" class="link" @click="undo()">Take that back</button>
        <button type="button" class="link" @click="emit('done')">Done</button>
        <Refusal :message="not" />
      </p>
      <Opening v-if="put.not.length" :label="`${put.not.length} not`">
        <p v-for="n in put.not" :key="n.rig">
          <b>{{ n.name }}</b> {{ n.words }}
        </p>
      </Opening>
    </div>
    <template v-else>
      <p v-if="stamps.length" class="mb-2 flex flex-wrap gap-3">
        <span v-for="s in stamps" :key="s" class="stamp">{{ s }}</span>
      </p>
      <div class="flex flex-wrap items-center gap-x-5 gap-y-2">
        <p role="status">
          <template v-if="whole">
            <b>{{
              ready.length ? `${spoken(ready.length)} would get these` : 'None would get other targets'
            }}</b><template v-if="seen.fits"
              >; {{ spoken(seen.fits) }} {{ seen.fits === 1 ? 'has its own' : 'have theirs' }} already</template
            >.
          </template>
          <template v-else>Working them out, {{ seen.done }} of {{ spoken(seen.of) }}.</template>
        </p>
        <progress
          v-if="!whole || busy"
          :value="busy ? put.done : seen.done"
          :max="(busy ? ready.length : seen.of) || 1"
          :aria-label="busy ? 'How many are put in force' : 'How many are worked out'"
        />
        <button v-if="whole && ready.length" type="button" class="button button-next" :disabled="busy" @click="save()">
          Put them in force for {{ spoken(ready.length) }}
        </button>
        <button type="button" class="link" @click="emit('done')">Not now</button>
      </div>
      <Refusal :message="message || no" />
      <ul v-if="whole && ready.length" class="mt-3 max-h-72 overflow-auto border-t border-hairline">
        <li
          v-for="r in ready.slice(0, SHOWN)"
          :key="r.rig"
          class="flex flex-wrap gap-x-6 border-b border-hairline py-1.5"
        >
          <b class="min-w-40">{{ r.name }}</b>
          <span v-for="a in r.axles" :key="a.name"
            ><span class="text-soft">{{ a.name }}</span>
            {{ a.now_kpa === null ? 'none' : show('pressure', a.now_kpa, 'up') }} →
            <b>{{ show('pressure', a.target_kpa!, 'up') }}</b></span
          >
        </li>
        <li v-if="ready.length > SHOWN" class="py-1.5 text-soft">and {{ spoken(ready.length - SHOWN) }} more</li>
      </ul>
      <Opening v-if="whole && against.length" :label="`${spoken(against.length)} left as they are`" class="mt-2">
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

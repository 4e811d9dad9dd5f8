<script setup lang="ts">
/** Practice, on every screen of it: what is the case, a gauge to put on a wheel, hints, and what it came to. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Presses from '@/shared/Presses.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { say, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Working from '@/shared/Working.vue'
import { begin, leavePractice, theTry, type Try } from './queries'

const router = useRouter()
const { data } = useQuery(theTry)
const open = ref(true)
const take = (now: Try) => queries.setQueryData(theTry.queryKey, now)

const chosen = ref<string | null>(null)
const gauge = computed(() => chosen.value ?? data.value?.gauges[0] ?? '')
const looked = ref<{ where: string; words: string } | null>(null)
const looking = useSave(async (wheel: string, pad: boolean) => {
  const seen = await answer(api.POST('/api/v1/practice/try/look', { body: { wheel, gauge: pad ? '' : gauge.value } }))
  looked.value =
    seen.kpa === null
      ? { where: `Pad under ${wheel}`, words: show('mass', seen.kg ?? 0) }
      : { where: `${gauge.value} on ${wheel}`, words: show('pressure', seen.kpa) }
})
const tools = computed(() =>
  [
    { name: 'Put a gauge on', does: 'Put the gauge on', wheels: data.value?.wheels ?? [], pad: false },
    { name: 'Put a pad under', does: 'Put a pad under', wheels: data.value?.pads ?? [], pad: true },
  ].filter((t) => t.wheels.length),
)
const hinting = useSave(async () => void take(await answer(api.POST('/api/v1/practice/try/hint'))))
const night = useSave(async () => {
  take(await answer(api.POST('/api/v1/practice/try/night')))
  looked.value = null
  await queries.invalidateQueries({ queryKey: ['rig'] })
})
const reason = ref<string | null>(null)
const judging = useSave(async () => {
  take(await answer(api.POST('/api/v1/practice/try/judge', { body: { reason: reason.value ?? '' } })))
  open.value = true
})
const other = useSave(async (again: boolean) => begin(data.value!.exercise.key, again, router))
const leaving = useSave(async () => leavePractice(router))
const message = computed(
  () => [looking, hinting, night, judging, other, leaving].map((s) => s.message.value).find(Boolean) ?? '',
)
const work = computed(() =>
  data.value?.exercise.stage === 'gauges'
    ? { name: 'rounds', params: { id: data.value.rig } }
    : { name: data.value?.exercise.stage, params: { id: data.value?.rig } },
)
</script>

<template>
  <aside aria-label="Practice" class="border-b-2 border-plum bg-paper print:hidden">
    <div class="flex flex-wrap items-center gap-x-5 gap-y-1 px-4 py-2 lg:px-5">
      <p class="stamp border-plum text-plum">Practice: nothing here is real</p>
      <RouterLink v-if="data" :to="work" class="font-semibold">{{ data.exercise.name }}</RouterLink>
      <span v-if="data" class="hidden text-soft lg:inline">{{ data.exercise.goal }}</span>
      <span class="ml-auto flex gap-x-4">
        <button v-if="data" type="button" class="link" :aria-expanded="open" @click="open = !open">
          {{ open ? 'Fold away' : 'Show the situation' }}
        </button>
        <button type="button" class="link" @click="leaving.save()">Leave practice</button>
      </span>
    </div>
    <div
      v-if="data && open"
      class="grid gap-x-10 gap-y-4 border-t border-hairline px-4 py-3 lg:grid-cols-[5fr_4fr] lg:px-5"
    >
      <section v-if="data.judgement" aria-label="What it came to" class="min-w-0">
        <p class="text-xl font-bold" :class="data.judgement.right ? 'text-green' : 'text-rust'">
          {{ data.judgement.words }}
        </p>
        <p v-if="data.judgement.comes_to" class="mt-1">{{ data.judgement.comes_to }}</p>
        <p class="mt-1">
          <span class="text-soft">The reason:</span> {{ data.judgement.reason }}.
          <b class="ml-2">{{ Math.round(data.judgement.earned * 100) }} of 100</b>
        </p>
        <div class="mt-3 flex flex-wrap gap-3">
          <button type="button" class="button button-next" :disabled="other.busy.value" @click="other.save(false)">
            Again, other numbers
          </button>
          <button type="button" class="button" :disabled="other.busy.value" @click="other.save(true)">
            Same numbers
          </button>
        </div>
      </section>
      <section v-else aria-label="The situation" class="min-w-0">
        <p v-for="(f, i) in data.facts" :key="i" class="mb-1">{{ say(f) }}</p>
        <p class="mt-2 font-semibold">{{ data.exercise.goal }}</p>
        <p v-for="h in data.hints" :key="h" class="mt-1 border-l-2 border-plum pl-3">{{ h }}</p>
        <button v-if="data.hints_left" type="button" class="link mt-1" @click="hinting.save()">
          A hint, for {{ Math.round(data.hint_costs * 100) }} of 100
        </button>
      </section>
      <div v-if="data.judgement" class="grid min-w-0 gap-x-8 gap-y-4 sm:grid-cols-2">
        <Working :lines="data.judgement.left" title="What you left" />
        <Working :lines="data.judgement.working" title="What was behind it" />
      </div>
      <section v-else class="min-w-0">
        <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
          <div v-for="tool in tools" :key="tool.name" class="min-w-0">
            <p class="label">{{ tool.name }}</p>
            <div
              v-if="!tool.pad && data.gauges.length > 1"
              class="mb-2 flex gap-1"
              role="group"
              aria-label="Which gauge"
            >
              <Presses
                :model-value="gauge"
                :choices="data.gauges.map((g) => ({ key: g, name: g }))"
                look="chip min-h-11 px-3 lg:min-h-9"
                @update:model-value="chosen = $event"
              />
            </div>
            <div class="flex flex-wrap gap-1">
              <button
                v-for="w in tool.wheels"
                :key="w"
                type="button"
                class="press chip min-h-11 min-w-11 px-2 lg:min-h-9"
                :aria-label="`${tool.does} ${w}`"
                @click="looking.save(w, tool.pad)"
              >
                {{ w }}
              </button>
            </div>
          </div>
          <p class="min-w-36" aria-live="polite">
            <template v-if="looked">
              <span class="block text-sm text-soft">{{ looked.where }}</span>
              <b class="text-2xl">{{ looked.words }}</b>
            </template>
          </p>
        </div>
        <button v-if="data.warm" type="button" class="link mt-2" @click="night.save()">Let the night pass</button>
        <form class="mt-3 flex flex-wrap items-end gap-3" @submit.prevent="judging.save()">
          <ChoiceField
            v-model="reason"
            class="flex-1 basis-64"
            label="When it is done: why so?"
            empty="Choose your reason"
            :choices="data.reasons"
          />
          <button class="button button-next" :disabled="judging.busy.value || !reason">Judge it</button>
        </form>
        <Refusal :message="message" />
      </section>
    </div>
  </aside>
</template>

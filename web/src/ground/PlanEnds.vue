<script setup lang="ts">
/** What else can be done with an open plan: another stretch, what the place taught, undo; and every wheel as it stands. */
import { ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { say, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import type { OpenPlan } from './queries'
import type { OnGround } from './useGround'

const props = defineProps<{
  here: OnGround
  plan: OpenPlan
  wheels: OpenPlan['wheels']
}>()
const emit = defineEmits<{ go: [step: number]; pick: [code: string] }>()
const { may, shown: me } = useSession()
const learned = ref('')
const learn = useSave(async (outcome: Schemas['LearnedIn']['outcome']) => {
  const body = { step: props.plan.at, outcome, place: '', note: '' }
  props.here.take(
    await answer(api.POST('/api/v1/ground/{uuid}/learned', { params: { path: { uuid: props.plan.uuid } }, body })),
  )
  learned.value = 'Kept: it is proposed here the next time.'
})
const undo = useSave(async () => {
  props.here.take(await answer(api.DELETE('/api/v1/ground/{uuid}', { params: { path: { uuid: props.plan.uuid } } })))
})
const takeBack = useSave(async (entry: string) => {
  const path = { uuid: props.plan.uuid, entry }
  props.here.take(await answer(api.DELETE('/api/v1/ground/{uuid}/entries/{entry}', { params: { path } })))
})
const DONE = { set: '', left: 'stays as it is', replaced: 'replaced', unreadable: 'cannot be read' }
</script>

<template>
  <section>
    <div v-if="may('rounds')" class="flex flex-wrap items-center gap-x-5 gap-y-2">
      <span class="text-soft">Go to</span>
      <button
        v-for="(s, i) in plan.stretches"
        :key="i"
        type="button"
        class="press chip quiet min-h-11 px-3"
        :aria-pressed="plan.at === i"
        @click="emit('go', i)"
      >
        {{ s.name }}
      </button>
      <template v-if="plan.place && !plan.stretches[plan.at]!.road">
        <span class="text-soft">Here it</span>
        <button type="button" class="button" @click="learn.save('through')">Got through</button>
        <button type="button" class="button" @click="learn.save('stuck')">Got stuck</button>
      </template>
      <button v-if="plan.may_undo" type="button" class="link" @click="undo.save()">
        Undo the plan: nothing was let out
      </button>
    </div>
    <p v-if="learned" class="mt-1 text-sm" role="status">{{ learned }}</p>
    <Refusal :message="learn.message.value || undo.message.value || takeBack.message.value" />
    <ul class="mt-3 max-w-3xl">
      <li
        v-for="w in wheels"
        :key="w.code"
        class="flex flex-wrap items-baseline gap-x-4 border-t border-hairline py-1.5"
      >
        <button type="button" class="link min-h-9" @click="emit('pick', w.code)">{{ w.name }} {{ w.code }}</button>
        <span class="figure font-semibold">{{ show('pressure', w.kpa, 'up') }}</span>
        <span v-if="w.waiting" class="text-soft">waits</span>
        <span v-else-if="w.done" class="text-soft">
          {{ w.done.done === 'set' ? `read ${w.done.typed}` : `${DONE[w.done.done]}: ${w.done.reason}`
          }}<template v-if="w.done.by">, {{ w.done.by }}</template>
          <template v-if="w.words">; {{ say(w.words) }}</template>
        </span>
        <button
          v-if="w.done && w.done.by_id === me?.person"
          type="button"
          class="link text-sm"
          @click="takeBack.save(w.done.uuid)"
        >
          Take it back
        </button>
      </li>
    </ul>
  </section>
</template>

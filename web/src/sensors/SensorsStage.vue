<script setup lang="ts">
/** Alarms from the targets, what was read off a display, and what a rig has of sensors. */
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { figure, moment, say, show, toward, unitOf } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Working from '@/shared/Working.vue'
import AlarmLoop from './AlarmLoop.vue'
import LookForm from './LookForm.vue'
import { useLampCarried, useSensors } from './queries'
import SystemForm from './SystemForm.vue'

const { id } = useFrame()
const { may } = useSession()
const { data: told } = useSensors(id)
// The lamp may come on where there is no network.
useLampCarried(id)
const { save: takeBack, message } = useSave(async (uuid: string) => {
  const params = { path: { rig_id: id.value, uuid } }
  const now = await answer(api.DELETE('/api/v1/rigs/{rig_id}/glances/{uuid}', { params }))
  queries.setQueryData(['rig', id.value, 'sensors'], now)
  await refreshRig(id.value)
})
</script>

<template>
  <TargetPages />
  <template v-if="told">
    <h1>Sensors and alarms</h1>
    <p class="max-w-3xl text-soft">
      From the targets, judged as if cold. An alarm sets low and clears higher, so two tires alike can stand in
      different states. A display backs a gauge up: a round is due all the same.
    </p>
    <ul v-if="told.notes.length" class="mt-2 max-w-3xl">
      <li v-for="(n, i) in told.notes" :key="i" class="font-medium text-rust">{{ say(n) }}</li>
    </ul>

    <!-- On a phone the numbers in hand come first. -->
    <div class="flex flex-col">
      <div>
        <section v-for="a in told.axles" :key="a.wheels[0]?.code" class="mt-6 border-t border-hairline pt-4">
          <div class="flex flex-wrap items-baseline justify-between gap-x-6">
            <h2>
              {{ a.name }}
              <span v-if="a.on_ground" class="text-base font-normal text-plum">by the number of its open plan</span>
            </h2>
            <p v-if="a.target_kpa !== null" class="text-soft">
              {{ a.on_ground ? 'held to' : 'in the air of now held to' }}
              <b class="text-ink">{{ show('pressure', a.target_kpa, toward(a.target_kpa, a.ceiling_kpa)) }}</b>
            </p>
          </div>
          <p v-if="a.target_kpa === null" class="text-soft">No target: no alarm can be derived.</p>
          <template v-else>
            <dl class="mt-2 grid max-w-2xl grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
              <div v-for="f in a.limits" :key="f.name">
                <dt class="text-sm text-soft">{{ f.name }}</dt>
                <dd class="text-2xl font-bold">
                  {{ f.at ? figure(f.at.kind, f.at.value, f.at.toward) : '?' }}
                  <span class="text-sm font-normal text-soft">{{ unitOf('pressure') }}</span>
                </dd>
              </div>
            </dl>
            <AlarmLoop class="mt-3 max-w-3xl" :axle="a" />
            <ul class="mt-1 grid max-w-3xl gap-x-8 sm:grid-cols-2">
              <li v-for="w in a.wheels" :key="w.code" class="border-t border-hairline py-1">
                <b>{{ w.name }}</b>{{ ' ' }}
                <span :class="w.grade === null || w.old ? 'text-soft' : w.loud ? 'font-semibold text-rust' : ''">{{
                  say(w.words)
                }}</span>
                <span v-if="w.since && w.at" class="block text-sm text-soft"
                  >{{ say(w.since) }} · {{ moment(w.at) }}</span
                >
              </li>
            </ul>
            <p v-for="(w, i) in a.apart" :key="i" class="mt-1 max-w-3xl">{{ say(w) }}</p>
            <p v-for="(l, i) in a.lamp" :key="`l${i}`" class="mt-1 max-w-3xl text-soft">{{ say(l) }}</p>
            <p v-if="a.lamp_lit" class="mt-1 max-w-3xl font-medium text-rust">{{ say(a.lamp_lit) }}</p>
            <Opening v-if="a.receiver" label="For a receiver that compares raw numbers" class="mt-2">
              <p>
                <template v-for="f in a.receiver.limits" :key="f.name">
                  {{ f.name }} <b v-if="f.at">{{ show(f.at.kind, f.at.value, f.at.toward) }}</b>,
                </template>
                heat <b>{{ show('temperature', a.receiver.heat_c) }}</b>
              </p>
              <p v-for="(h, i) in a.receiver.hides" :key="i" class="max-w-3xl text-sm">{{ say(h) }}</p>
              <Working :lines="a.receiver.working" />
            </Opening>
          </template>
        </section>
        <p class="mt-4 flex flex-wrap gap-x-6">
          <a :href="`/api/v1/rigs/${id}/alarms.pdf`" download>Alarms to print</a>
          <a :href="`/api/v1/rigs/${id}/alarms.csv`" download>As CSV</a>
        </p>
      </div>
      <section class="mt-8 border-t max-lg:order-first max-lg:mt-4 border-hairline pt-4">
        <h2>Numbers read off</h2>
        <LookForm v-if="may('rounds')" class="mt-2" :told="told" />
        <p v-else class="text-soft">You may look, not enter numbers.</p>
        <ul v-if="told.glances.length" class="mt-4 max-w-3xl">
          <li v-for="g in told.glances" :key="g.uuid" class="flex flex-wrap gap-x-3 border-t border-hairline py-1">
            <span>{{ moment(g.at) }}, {{ told.sources[g.source]?.toLowerCase() }}: {{ g.wheels.join(', ') }}</span>
            <span class="text-soft">{{ g.by }}</span>
            <button v-if="g.mine || may('people')" type="button" class="link" @click="takeBack(g.uuid)">
              Take back
            </button>
          </li>
        </ul>
        <Refusal :message="message" />
        <Opening v-if="told.told.length" label="Alarms on record" class="mt-3">
          <ul class="max-w-3xl">
            <li v-for="(t, i) in told.told" :key="i" class="border-t border-hairline py-1">
              {{ say(t.words) }} <span class="text-soft">{{ moment(t.at) }}</span>
            </li>
          </ul>
        </Opening>
      </section>
    </div>
    <section class="mt-8 border-t border-hairline pt-4">
      <h2>What it has</h2>
      <SystemForm class="mt-2" :told="told" />
    </section>
  </template>
</template>

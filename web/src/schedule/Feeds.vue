<script setup lang="ts">
/** Secret addresses from which a calendar fetches what is due. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { spokenDay } from '@/shared/units'
import ToldOnce from '@/shared/ToldOnce.vue'
import { useSave } from '@/shared/useSave'

const { data } = useQuery({ queryKey: ['feeds'], queryFn: () => answer(api.GET('/api/v1/feeds')) })
const address = ref('')
const { save, busy, message } = useSave(async (own: boolean) => {
  const made = await answer(api.POST('/api/v1/feeds', { body: { own, rig: null } }))
  address.value = location.origin + made.path
  queries.setQueryData(['feeds'], made.feeds)
})
const { save: takeBack, message: not } = useSave(async (feed: number) => {
  address.value = ''
  const left = await answer(api.DELETE('/api/v1/feeds/{feed_id}', { params: { path: { feed_id: feed } } }))
  queries.setQueryData(['feeds'], left)
})
</script>

<template>
  <section>
    <h2>In your calendar</h2>
    <p class="text-soft">
      A calendar fetches it from an address of its own (iCalendar). Whoever has the address can read it: it is shown
      once, and can be taken back.
    </p>
    <ul class="mt-1">
      <li
        v-for="f in data ?? []"
        :key="f.id"
        class="flex flex-wrap items-center gap-x-4 border-t border-hairline py-1.5"
      >
        <b>{{ f.of }}</b>
        <span class="text-soft"
          >made {{ spokenDay(f.made_at) }},
          {{ f.fetched_on ? `fetched last ${spokenDay(f.fetched_on)}` : 'never fetched' }}</span
        >
        <button type="button" class="link" @click="takeBack(f.id)">Take it back</button>
      </li>
    </ul>
    <ToldOnce v-if="address" what="The address" :secret="address" class="mt-2" />
    <p class="mt-2 flex flex-wrap gap-x-6 gap-y-1">
      <button type="button" class="link" :disabled="busy" @click="save(false)">An address for all that is due</button>
      <button type="button" class="link" :disabled="busy" @click="save(true)">One for the rounds given to you</button>
    </p>
    <Refusal :message="message || not" />
  </section>
</template>

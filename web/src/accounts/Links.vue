<script setup lang="ts">
/** The links that are still good: invitations, and new passwords. */
import { useQuery } from '@tanstack/vue-query'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { moment } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const { data } = useQuery({ queryKey: ['links'], queryFn: () => answer(api.GET('/api/v1/links')) })
const { save: takeBack, message } = useSave(async (link: number) => {
  const left = await answer(api.DELETE('/api/v1/links/{link_id}', { params: { path: { link_id: link } } }))
  queries.setQueryData(['links'], left)
})
</script>

<template>
  <section v-if="data?.length" aria-label="Links that wait">
    <ul>
      <li
        v-for="l in data"
        :key="l.id"
        class="flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 border-buoy bg-paper px-4 py-2"
      >
        <b>{{ l.name }}</b>
        <span>{{ l.member === null ? `invited as ${l.role}` : 'new password' }}</span>
        <span class="text-soft">by {{ l.made_by }}, good until {{ moment(l.ends_at) }}</span>
        <button type="button" class="link" @click="takeBack(l.id)">Take it back</button>
      </li>
    </ul>
    <Refusal :message="message" />
  </section>
</template>

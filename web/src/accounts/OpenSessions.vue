<script setup lang="ts">
/** Where one is signed in, and ending it from here. */
import { useQuery } from '@tanstack/vue-query'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { moment } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const { data } = useQuery({ queryKey: ['sessions'], queryFn: () => answer(api.GET('/api/v1/sessions')) })
const { save: end, message } = useSave(async (which: number | 'others') => {
  const left =
    which === 'others'
      ? await answer(api.DELETE('/api/v1/sessions'))
      : await answer(api.DELETE('/api/v1/sessions/{session_id}', { params: { path: { session_id: which } } }))
  queries.setQueryData(['sessions'], left)
})
</script>

<template>
  <section>
    <h2>Signed in</h2>
    <ul class="mt-1">
      <li
        v-for="s in data ?? []"
        :key="s.id"
        class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-hairline py-1.5"
      >
        <b>{{ s.device }}</b>
        <span class="text-soft"
          >{{ s.address }}, since {{ moment(s.began_at) }}, last seen {{ moment(s.seen_at) }}</span
        >
        <span v-if="s.here">Here</span>
        <button v-else type="button" class="link" @click="end(s.id)">End it</button>
      </li>
    </ul>
    <button v-if="(data?.length ?? 0) > 1" type="button" class="link mt-2" @click="end('others')">
      End all others
    </button>
    <Refusal :message="message" />
  </section>
</template>

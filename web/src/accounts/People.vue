<script setup lang="ts">
/** Who may do what in this workspace, how others come in, and what its rigs start with. */
import { computed, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import FilterField from '@/shared/FilterField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { useAsked } from '@/shared/useHere'
import { useCounted } from '@/shared/usePages'
import { useSave } from '@/shared/useSave'
import Archive from './Archive.vue'
import Invite from './Invite.vue'
import LinkTold from './LinkTold.vue'
import Links from './Links.vue'
import Settings from './Settings.vue'
import { ROLES, type Role } from './roles'

type Member = Schemas['MemberOut']
const { session, may, refetch } = useSession()
const SORTS = [
  { key: 'name' as const, name: 'Their names' },
  { key: 'role' as const, name: 'Their roles' },
]
const { asked, query } = useAsked('people', { find: '', sort: 'name' as (typeof SORTS)[number]['key'] })
const list = useCounted(
  computed(() => ['people', 'page', query.value]),
  (first) => answer(api.GET('/api/v1/people/page', { params: { query: { ...query.value, first } } })),
  (page) => page.people,
  (page) => page.found,
)
const { page, rows } = list
const file = computed(() => `/api/v1/people.csv?${new URLSearchParams(query.value)}`)
/** Whose line asks once more, or is refused. */
const of = ref<number | null>(null)
const taking = ref<number | null>(null)
const reset = ref<{ name: string; made: Schemas['LinkMade'] } | null>(null)
const path = (member: Member) => ({ params: { path: { member_id: member.id } } })

const { save: change, message } = useSave(async (member: Member, what: 'off' | 'take' | Role) => {
  of.value = member.id
  reset.value = null
  try {
    if (what === 'off')
      await answer(api.PUT('/api/v1/people/{member_id}/off', { ...path(member), body: { off: !member.off } }))
    else if (what === 'take') await answer(api.DELETE('/api/v1/people/{member_id}', path(member)))
    else
      await answer(
        api.PUT('/api/v1/people/{member_id}', { ...path(member), body: { role: what, version: member.version } }),
      )
    taking.value = null
  } finally {
    await queries.invalidateQueries({ queryKey: ['people'] })
  }
  if (member.you) await refetch()
})
const { save: resetPassword, message: notReset } = useSave(async (member: Member, factor: boolean) => {
  of.value = member.id
  reset.value = null
  const made = await answer(api.POST('/api/v1/people/{member_id}/reset', { ...path(member), body: { factor } }))
  reset.value = { name: member.name, made }
  await queries.invalidateQueries({ queryKey: ['links'] })
})
/** A workspace that was brought in has settings of its own. */
const anew = ref(0)
const told = (member: Member) => (of.value === member.id ? message.value || notReset.value : '')
</script>

<template>
  <main id="stage" class="mx-auto max-w-4xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>People of {{ session?.workspace?.name }}</h1>
      <a :href="file" download>CSV</a>
    </div>
    <Invite v-if="may('people')" class="mt-4" @added="queries.invalidateQueries({ queryKey: ['people'] })" />
    <Links v-if="may('people')" class="mt-4" />
    <FilterField
      v-if="page"
      v-model="asked.find"
      label="Filter the people"
      :list="page"
      :narrowed="!!query.find"
      class="mt-4"
    >
      <ChoiceField v-model="asked.sort" class="w-44" label="In order of" :choices="SORTS" />
    </FilterField>
    <p v-if="query.find && page && !page.found" class="mt-4 text-soft">
      Nobody fits “{{ query.find }}”. <button type="button" class="link" @click="asked.find = ''">Show all</button>
    </p>
    <ul class="mt-4">
      <li v-for="p in rows" :key="p.id" class="border-t border-hairline py-3">
        <div class="flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
          <p class="min-w-40">
            <RouterLink
              v-if="may('people')"
              :to="{ name: 'person', params: { person: p.id } }"
              class="font-bold"
              title="What they did"
              >{{ p.name }}</RouterLink
            >
            <b v-else>{{ p.name }}</b>
            <span v-if="p.you" class="text-soft"> (you)</span>
            <span class="block text-sm text-soft">{{ p.username }}</span>
            <span v-if="p.off" class="block font-semibold text-rust">May not come in for now</span>
          </p>
          <ChoiceField
            v-if="may('people')"
            class="w-48"
            bare
            :label="`Role of ${p.name}`"
            :model-value="p.role"
            :choices="ROLES"
            @update:model-value="change(p, $event)"
          />
          <p v-else>{{ p.role }}</p>
        </div>
        <div v-if="may('people')" class="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
          <template v-if="taking === p.id">
            <b>Take {{ p.name }} off? What they did keeps their name.</b>
            <button type="button" class="link" @click="change(p, 'take')">Yes, take off</button>
            <button type="button" class="link" @click="taking = null">No</button>
          </template>
          <template v-else>
            <button type="button" class="link" @click="change(p, 'off')">
              {{ p.off ? 'Let in again' : 'Keep out for now' }}
            </button>
            <button type="button" class="link" @click="taking = p.id">Take off</button>
            <button v-if="!p.you" type="button" class="link" @click="resetPassword(p, false)">
              New password by link
            </button>
            <button v-if="!p.you" type="button" class="link" @click="resetPassword(p, true)">
              … and without the second factor
            </button>
          </template>
        </div>
        <Refusal :message="told(p)" />
        <LinkTold v-if="reset && of === p.id" :made="reset.made" :what="`a new password for ${reset.name}`" />
      </li>
    </ul>
    <PageTurner :list="list" />
    <Settings v-if="may('people')" :key="anew" />
    <Archive v-if="may('people')" @brought="anew++" />
  </main>
</template>

<script setup lang="ts">
/** Crews: people who do rounds together. */
import { reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'
import { refreshGiven } from './queries'
import { useWho } from './useWho'

type Crew = Schemas['CrewOut']
const { may } = useSession()
const { members, groups } = useWho()
const open = ref<number | 'new' | null>(null)
const form = reactive({ name: '', members: [] as number[] })
function begin(crew?: Crew) {
  open.value = crew?.id ?? 'new'
  Object.assign(form, { name: crew?.name ?? '', members: [...(crew?.members ?? [])] })
}
const { save, busy, fields, message } = useSave(async (what: 'keep' | number) => {
  const params = (id: number) => ({ params: { path: { crew_id: id } } })
  const now =
    what !== 'keep'
      ? await answer(api.DELETE('/api/v1/crews/{crew_id}', params(what)))
      : open.value === 'new'
        ? await answer(api.POST('/api/v1/crews', { body: form }))
        : await answer(api.PUT('/api/v1/crews/{crew_id}', { ...params(open.value!), body: form }))
  queries.setQueryData(['crews'], now)
  open.value = null
  await refreshGiven()
})
const names = (crew: Crew) =>
  crew.members
    .map((id) => members.value?.find((p) => p.id === id)?.name ?? '')
    .filter(Boolean)
    .join(', ') || 'nobody'
</script>

<template>
  <section>
    <h2>Crews</h2>
    <p v-if="!groups?.length" class="text-soft">What is given to a crew any of it does. There is none yet.</p>
    <ul>
      <li v-for="c in groups ?? []" :key="c.id" class="flex flex-wrap gap-x-4 border-t border-hairline py-1.5">
        <b>{{ c.name }}</b> <span class="text-soft">{{ names(c) }}</span>
        <template v-if="may('people')">
          <button type="button" class="link" @click="begin(c)">Change</button>
          <button type="button" class="link" @click="save(c.id)">Disband</button>
        </template>
      </li>
    </ul>
    <button v-if="may('people') && open === null" type="button" class="link mt-1" @click="begin()">Another crew</button>
    <EntryForm
      v-if="open !== null"
      :refused="fields"
      class="mt-3 border-l-4 border-teal bg-paper px-4 py-3"
      @submit="save('keep')"
    >
      <TextField v-model="form.name" label="What it is called" name="name" class="w-60" />
      <fieldset class="mt-2">
        <legend class="label">Who is in it</legend>
        <label v-for="p in (members ?? []).filter((m) => m.rounds)" :key="p.id" class="flex min-h-9 items-center gap-2">
          <input v-model="form.members" type="checkbox" :value="p.id" class="size-5 accent-teal" /> {{ p.name }}
        </label>
      </fieldset>
      <p class="mt-2 flex gap-4">
        <button class="button button-next" :disabled="busy">Keep it</button>
        <button type="button" class="link" @click="open = null">Not now</button>
      </p>
    </EntryForm>
    <Refusal :message="Object.keys(fields).length ? '' : message" />
  </section>
</template>

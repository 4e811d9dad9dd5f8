<script setup lang="ts">
/** Who may do what in this workspace, and what its rigs start with. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { pairs, queries, useSession } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { spokenDays } from '@/shared/units'
import { usePlaces } from '@/shared/usePlaces'
import { useSave } from '@/shared/useSave'

type Role = Schemas['MemberOut']['role']
const { session, may, refetch } = useSession()
const people = useQuery({ queryKey: ['people'], queryFn: () => answer(api.GET('/api/v1/people')) })
const { places } = usePlaces()
const ROLES: { key: Role; name: string; note: string }[] = [
  { key: 'manager', name: 'Manager', note: 'everything' },
  { key: 'technician', name: 'Technician', note: 'weighs, sets the air, does rounds, compares gauges' },
  { key: 'viewer', name: 'Viewer', note: 'looks, changes nothing' },
]
const blank = () => ({ name: '', username: '', password: '', role: 'technician' as Role })
const form = reactive(blank())
const adding = ref(false)
const {
  save: add,
  busy,
  fields,
  message,
} = useSave(async () => {
  await answer(api.POST('/api/v1/people', { body: form }))
  Object.assign(form, blank())
  adding.value = false
  await people.refetch()
})
const refusedRole = ref<number | null>(null)
const { save: change, message: roleMessage } = useSave(async (id: number, role: Role, version: string) => {
  refusedRole.value = id
  try {
    await answer(
      api.PUT('/api/v1/people/{member_id}', { params: { path: { member_id: id } }, body: { role, version } }),
    )
  } finally {
    await people.refetch()
  }
  await refetch()
})

const settings = reactive({
  reserve: String(100 * (session.value?.workspace?.reserve ?? 0.08)),
  step: session.value?.workspace?.step ?? '1 psi',
  edge: session.value?.workspace?.edge ?? 0.02,
  school: session.value?.workspace?.school ?? 'table',
  between: session.value?.workspace?.between ?? 'step up',
  temperature: session.value?.workspace?.temperature ?? 'morning',
  check_days: session.value?.workspace?.check_days ?? 7,
  cold_after_h: session.value?.workspace?.cold_after_h ?? null,
  spare_over: session.value?.workspace?.spare_over ?? false,
  place_key: session.value?.workspace?.place_key ?? '',
})
const seen = ref(session.value?.workspace?.version ?? '')
const saved = ref(false)
const {
  save: keep,
  fields: settingFields,
  message: settingMessage,
  newer,
} = useSave(async () => {
  saved.value = false
  const now = await answer(
    api.PUT('/api/v1/settings', {
      body: {
        ...settings,
        version: newer.value || seen.value,
        reserve: Number(settings.reserve.replace(',', '.')) / 100,
      },
    }),
  )
  seen.value = now.version
  await refetch()
  await queries.invalidateQueries({ queryKey: ['sheet'] })
  saved.value = true
})
const placeChoices = computed(() => [
  { key: '', name: 'None' },
  ...places.value.map((p) => ({ key: p.key, name: p.name })),
])
</script>

<template>
  <main id="stage" class="mx-auto max-w-4xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>People of {{ session?.workspace?.name }}</h1>
      <button v-if="may('people') && !adding" type="button" class="button" @click="adding = true">Add a person</button>
    </div>
    <EntryForm v-if="adding" :refused="fields" class="mt-4 border-y border-hairline py-5" @submit="add()">
      <div class="grid gap-4 sm:grid-cols-2">
        <TextField v-model="form.name" label="Name" name="name" />
        <TextField v-model="form.username" label="Sign-in name" name="username" />
        <TextField
          v-model="form.password"
          label="First password"
          type="password"
          hint="At least 10 characters; tell it to them"
          autocomplete="new-password"
          name="password"
        />
        <ChoiceField v-model="form.role" label="Role" :choices="ROLES" name="role" />
      </div>
      <div class="mt-4 flex items-center gap-4">
        <button class="button button-next" :disabled="busy">Add the person</button>
        <button type="button" class="link" @click="adding = false">Not now</button>
        <Refusal :message="message" />
      </div>
    </EntryForm>
    <ul class="mt-4">
      <li
        v-for="p in people.data.value ?? []"
        :key="p.id"
        class="flex flex-wrap items-end justify-between gap-4 border-t border-hairline py-3"
      >
        <p>
          <span class="font-bold">{{ p.name }}</span>
          <span class="block text-sm text-soft">{{ p.username }}</span>
        </p>
        <ChoiceField
          v-if="may('people')"
          class="w-48"
          :label="`Role of ${p.name}`"
          :model-value="p.role"
          :choices="ROLES"
          :message="refusedRole === p.id ? roleMessage : undefined"
          @update:model-value="change(p.id, $event, p.version)"
        />
        <p v-else>{{ p.role }}</p>
      </li>
    </ul>
    <section v-if="may('people')" class="mt-8 border-t border-hairline pt-5">
      <h2>What rigs start with</h2>
      <EntryForm :refused="settingFields" class="mt-3 grid gap-4 sm:grid-cols-3" @submit="keep()">
        <TextField v-model="settings.reserve" label="Reserve on the load, %" inputmode="decimal" name="reserve" />
        <ChoiceField
          v-model="settings.step"
          label="Practical step"
          :choices="(session?.steps ?? []).map((s) => ({ key: s as typeof settings.step, name: s }))"
        />
        <ChoiceField v-model="settings.place_key" label="Home place, for the air" :choices="placeChoices" />
        <ChoiceField
          v-model="settings.school"
          label="Where targets come from"
          :choices="pairs<typeof settings.school>(session?.schools)"
        />
        <ChoiceField
          v-model="settings.between"
          label="Between two columns"
          :choices="pairs<typeof settings.between>(session?.between)"
        />
        <ChoiceField
          v-model="settings.edge"
          label="Next column when less is left"
          :choices="(session?.edges ?? []).map((e) => ({ key: e, name: `${e * 100} %` }))"
        />
        <ChoiceField
          v-model="settings.temperature"
          label="What to do about temperature"
          :choices="pairs<typeof settings.temperature>(session?.temperatures)"
        />
        <ChoiceField
          v-model="settings.check_days"
          label="A check every"
          :choices="(session?.check_days ?? []).map((d) => ({ key: d, name: spokenDays(d) }))"
        />
        <ChoiceField
          v-model="settings.cold_after_h"
          label="Cold after standing"
          :choices="[
            { key: null as number | null, name: '3 h light, 5 h heavy' },
            ...(session?.cold_after_h ?? []).map((h) => ({ key: h as number | null, name: `${h} h` })),
          ]"
        />
        <label class="flex min-h-10 items-center gap-2 self-end">
          <input v-model="settings.spare_over" type="checkbox" class="size-5 accent-teal" /> Keep spares 5 % over
        </label>
        <p class="flex items-center gap-4">
          <button class="button">Save</button>
          <span v-if="saved" class="text-green" role="status">Saved</span>
          <Refusal :message="settingMessage && !settingFields.reserve ? settingMessage : ''" />
        </p>
      </EntryForm>
    </section>
  </main>
</template>

<script setup lang="ts">
/** The name of this workspace, and what its rigs start with. */
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { pairs, queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDays } from '@/shared/units'
import { usePlaces } from '@/shared/usePlaces'
import { useSave } from '@/shared/useSave'

const { session, refetch } = useSession()
const { places } = usePlaces()
const settings = reactive({
  name: session.value?.workspace?.name ?? '',
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
  <section class="mt-8 border-t border-hairline pt-5">
    <h2>The workspace, and what its rigs start with</h2>
    <EntryForm :refused="settingFields" class="mt-3 grid gap-4 sm:grid-cols-3" @submit="keep()">
      <TextField
        v-model="settings.name"
        label="What it is called"
        name="name"
        class="sm:col-span-3 sm:max-w-[calc((100%-2rem)/3)]"
      />
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
        <Refusal :message="settingMessage && !settingFields.reserve && !settingFields.name ? settingMessage : ''" />
      </p>
    </EntryForm>
  </section>
</template>

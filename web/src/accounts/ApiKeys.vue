<script setup lang="ts">
/** Keys for scripts: made, shown once, taken back. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDay } from '@/shared/units'
import ToldOnce from '@/shared/ToldOnce.vue'
import { useSave } from '@/shared/useSave'
import { ROLES, type Role } from './roles'

const { session } = useSession()
const { data } = useQuery({ queryKey: ['keys'], queryFn: () => answer(api.GET('/api/v1/keys')) })
const form = reactive({ name: '', role: 'viewer' as Role })
const roles = computed(() => ROLES.filter((r) => session.value?.key_roles.includes(r.key)))
const key = ref('')
const { save, busy, fields, message } = useSave(async () => {
  const made = await answer(api.POST('/api/v1/keys', { body: form }))
  key.value = made.key
  form.name = ''
  queries.setQueryData(['keys'], made.keys)
})
const { save: takeBack, message: not } = useSave(async (which: number) => {
  key.value = ''
  const left = await answer(api.DELETE('/api/v1/keys/{key_id}', { params: { path: { key_id: which } } }))
  queries.setQueryData(['keys'], left)
})
</script>

<template>
  <section>
    <h2>Keys for scripts</h2>
    <p class="text-soft">
      A script of yours sends one as <code>Authorization: Bearer</code>. It may what its role may here, and never more
      than you.
    </p>
    <ul class="mt-1">
      <li
        v-for="k in data ?? []"
        :key="k.id"
        class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-hairline py-1.5"
      >
        <b>{{ k.name }}</b>
        <span>{{ k.role }}</span>
        <span class="text-soft"
          >{{ k.own ? '' : `of ${k.person}, ` }}made {{ spokenDay(k.made_at) }},
          {{ k.used_on ? `used last ${spokenDay(k.used_on)}` : 'never used' }}</span
        >
        <button type="button" class="link" @click="takeBack(k.id)">Take it back</button>
      </li>
    </ul>
    <ToldOnce v-if="key" what="The key" :secret="key" class="mt-2" />
    <EntryForm :refused="fields" class="mt-3 flex flex-wrap items-start gap-4" @submit="save()">
      <TextField v-model="form.name" name="name" label="Another key" hint="What it is for" class="w-60" />
      <ChoiceField v-model="form.role" label="May" :choices="roles" name="role" class="w-48" />
      <button class="button mt-6" :disabled="busy">Make it</button>
    </EntryForm>
    <Refusal :message="Object.keys(fields).length ? '' : message || not" />
  </section>
</template>

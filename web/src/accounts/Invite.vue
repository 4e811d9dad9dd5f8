<script setup lang="ts">
/** Somebody more: by a link with which they make their own sign-in, or, without one, by a first password told to them. */
import { reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'
import LinkTold from './LinkTold.vue'
import NewSignIn from './NewSignIn.vue'
import { ROLES, type Role } from './roles'

const emit = defineEmits<{ added: [] }>()
const how = ref<'link' | 'password' | ''>('')
const blank = () => ({ name: '', username: '', password: '', role: 'technician' as Role })
const form = reactive(blank())
const made = ref<{ name: string; link: Schemas['LinkMade'] } | null>(null)
function open(by: 'link' | 'password') {
  made.value = null
  how.value = by
}
const { save, busy, fields, message } = useSave(async () => {
  const { name, role } = form
  if (how.value === 'link') {
    made.value = { name, link: await answer(api.POST('/api/v1/links', { body: { name, role } })) }
    await queries.invalidateQueries({ queryKey: ['links'] })
  } else {
    await answer(api.POST('/api/v1/people', { body: form }))
    emit('added')
  }
  Object.assign(form, blank())
  how.value = ''
})
</script>

<template>
  <div>
    <p v-if="!how" class="flex flex-wrap items-center gap-x-6 gap-y-2">
      <button type="button" class="button" @click="open('link')">Invite somebody</button>
      <button type="button" class="link" @click="open('password')">Add a person with a first password</button>
    </p>
    <EntryForm v-else :refused="fields" class="border-y border-hairline py-5" @submit="save()">
      <div class="grid gap-4 sm:grid-cols-2">
        <TextField v-model="form.name" label="Name" name="name" />
        <ChoiceField v-model="form.role" label="Role" :choices="ROLES" name="role" />
        <template v-if="how === 'password'">
          <NewSignIn v-model:username="form.username" v-model:password="form.password" told />
        </template>
      </div>
      <div class="mt-4 flex items-center gap-4">
        <button class="button button-next" :disabled="busy">
          {{ how === 'link' ? 'Make the link' : 'Add the person' }}
        </button>
        <button type="button" class="link" @click="how = ''">Not now</button>
        <Refusal :message="message" />
      </div>
    </EntryForm>
    <LinkTold v-if="made" :made="made.link" :what="`${made.name} to come in`" />
  </div>
</template>

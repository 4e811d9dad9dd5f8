<script setup lang="ts">
/** Over to another with one tap: to oneself at once, to others from their list. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { useSave } from '@/shared/useSave'
import { refreshGiven } from './queries'
import { toOf, useWho } from './useWho'

const props = defineProps<{ given: Schemas['AssignedOut'] }>()
const { may } = useSession()
const { who } = useWho()
const path = () => ({ params: { path: { assignment_id: props.given.id } } })
const { save, busy, message } = useSave(async (to: string | 'me' | 'nobody') => {
  if (to === 'nobody') await answer(api.DELETE('/api/v1/assignments/{assignment_id}', path()))
  else {
    const body = { to: to === 'me' ? { member: null, crew: null } : toOf(to) }
    await answer(api.PUT('/api/v1/assignments/{assignment_id}', { ...path(), body }))
  }
  await refreshGiven(props.given.rig)
})
</script>

<template>
  <div v-if="may('rounds')" class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <button v-if="!given.yours" type="button" class="link min-h-11" :disabled="busy" @click="save('me')">
      Take it
    </button>
    <Menu v-if="given.yours || may('assign')" as="div" class="relative">
      <MenuButton class="link min-h-11" :aria-label="`Hand over the round of ${given.to}`">Hand over</MenuButton>
      <MenuItems
        class="absolute right-0 z-20 mt-1 max-h-72 w-60 overflow-auto rounded-md border border-soft bg-paper py-1 outline-none"
      >
        <MenuItem v-for="w in who" :key="w.key" v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-4 py-2 text-left"
            :class="{ 'bg-tealwash': active }"
            @click="save(w.key)"
          >
            {{ w.name }} <span class="text-sm text-soft">{{ w.note }}</span>
          </button>
        </MenuItem>
        <MenuItem v-if="may('assign')" v-slot="{ active }">
          <button
            type="button"
            class="block w-full border-t border-hairline px-4 py-2 text-left"
            :class="{ 'bg-tealwash': active }"
            @click="save('nobody')"
          >
            Nobody: take it back
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
    <Refusal :message="message" />
  </div>
</template>

<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import { system, unitOf, type System } from '@/shared/units'
import AirStrip from './AirStrip.vue'
import MenuAction from './MenuAction.vue'
import { light, switchLight } from './light'
import Mark from '@/shared/Mark.vue'
import Presses from '@/shared/Presses.vue'
import RigFinder from './RigFinder.vue'
import { leave, takeInHand, takeSession, type Session } from '@/shared/session'

defineProps<{ session: Session }>()
const emit = defineEmits<{ keys: [] }>()
const BOTH = [
  { key: 'us', name: 'psi · lb' },
  { key: 'metric', name: 'kPa · kg' },
] as const
/** Where each is chosen by itself, that is the third; it is chosen anew on its own page. */
const SYSTEMS = computed<{ key: System; name: string }[]>(() => [
  ...BOTH,
  ...(BOTH.some((s) => s.key === system.value)
    ? []
    : [{ key: system.value, name: `${unitOf('pressure')} · ${unitOf('mass')}` }]),
])

async function choose(units: System) {
  if (units !== 'us' && units !== 'metric') return
  system.value = units
  try {
    takeSession(await answer(api.PUT('/api/v1/session/units', { body: { units } })))
  } catch {
    // Nobody answered: it holds on this page, and is asked for again at the next switch.
  }
}
</script>

<template>
  <header class="border-b border-hairline print:hidden">
    <a href="#stage" class="absolute -top-20 left-4 z-50 bg-paper px-4 py-2 focus:top-2">Skip to the work</a>
    <div class="flex h-14 items-center gap-x-4 px-4 lg:px-5">
      <RouterLink
        to="/"
        class="flex shrink-0 items-center gap-2.5 text-ink hover:no-underline"
        aria-label="Gentle Ballast, the Yard"
      >
        <Mark />
        <span class="hidden text-[1.05rem] font-bold whitespace-nowrap sm:inline">Gentle Ballast</span>
      </RouterLink>
      <RigFinder class="min-w-0 flex-1 sm:max-w-64 sm:flex-none" />
      <span class="ml-auto hidden sm:block" />
      <AirStrip class="hidden lg:block" />
      <div class="hidden rounded-md border border-hairline sm:flex" role="group" aria-label="Units">
        <Presses
          :model-value="system"
          :choices="SYSTEMS"
          look="quiet px-2.5 py-1 text-[13.5px]"
          @update:model-value="choose"
        />
      </div>
      <Menu as="div" class="relative shrink-0">
        <MenuButton class="flex cursor-pointer items-center gap-1.5 py-1 font-medium">
          <span class="hidden max-w-36 truncate md:inline">{{ session.name }}</span>
          <span class="md:hidden">Menu</span>
          <svg width="11" height="11" viewBox="0 0 12 12" aria-hidden="true">
            <path d="M1 4h10L6 9z" fill="currentColor" />
          </svg>
        </MenuButton>
        <MenuItems
          class="absolute right-0 z-30 mt-1 max-h-[calc(100dvh-4rem)] w-64 overflow-y-auto border border-soft bg-paper py-1 outline-none"
        >
          <p class="px-4 py-2 text-sm text-soft">{{ session.workspace?.name }}, {{ session.role }}</p>
          <MenuItem
            v-for="to in [
              { path: '/', name: 'Yard' },
              { path: '/day', name: 'Your day' },
              { path: '/morning', name: 'This morning' },
              { path: '/schedule', name: 'What is due' },
              { path: '/checks', name: 'Checks' },
              { path: '/report', name: 'The month' },
              { path: '/earlier', name: 'Earlier readings' },
              { path: '/tires', name: 'All tires' },
              { path: '/gauges', name: 'Gauges and inflators' },
              { path: '/tables', name: 'Load-inflation tables' },
              { path: '/practice', name: 'Practice' },
              { path: '/units', name: 'Units, each by itself' },
              { path: '/people', name: 'People and settings' },
              { path: '/you', name: 'Your sign-in' },
            ]"
            :key="to.path"
            v-slot="{ active, close }"
          >
            <RouterLink v-slot="{ href, navigate }" :to="to.path" custom>
              <!-- The link's own click comes first and is done with the event: the menu is closed by it too. -->
              <a
                :href="href"
                class="block px-4 py-2 text-ink"
                :class="{ 'bg-tealwash': active }"
                @click="(close(), navigate($event))"
                >{{ to.name }}</a
              >
            </RouterLink>
          </MenuItem>
          <div class="my-1 border-t border-hairline" />
          <MenuAction
            v-for="w in session.workspaces.filter((w) => Number(w.key) !== session.workspace?.id)"
            :key="w.key"
            @click="takeInHand(Number(w.key))"
            >Go to {{ w.name }}</MenuAction
          >
          <MenuAction
            v-for="s in SYSTEMS.filter((s) => s.key !== system)"
            :key="s.key"
            class="sm:hidden"
            @click="choose(s.key)"
            >Show {{ s.name }}</MenuAction
          >
          <MenuAction @click="switchLight">{{
            light === 'day' ? 'Dusk: dark screen' : 'Day: light screen'
          }}</MenuAction>
          <MenuAction @click="emit('keys')">Keys <span class="text-soft">?</span></MenuAction>
          <MenuAction @click="leave()">Leave</MenuAction>
        </MenuItems>
      </Menu>
    </div>
    <AirStrip class="overflow-x-auto border-t border-hairline px-4 py-1.5 lg:hidden" />
  </header>
</template>

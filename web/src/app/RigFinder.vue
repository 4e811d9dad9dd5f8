<script setup lang="ts">
/** Type to find a rig. */
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { rigName, sheet } from '@/rigs/queries'
import { finder, fits, rigText } from '@/yard/queries'
import { say } from '@/shared/units'

const route = useRoute()
const router = useRouter()
const typed = ref('')
// Asked for once somebody is about to look for one.
const looked = ref(false)
const find = refDebounced(typed, 100)
const { data, isFetching } = useQuery(
  computed(() => ({ ...finder(find.value), enabled: looked.value, placeholderData: keepPreviousData })),
)
/** Of what was found before only what fits what is typed by now: Enter never takes another. */
const matching = computed(() => (data.value ?? []).filter((r) => fits(rigText(r), typed.value.trim())))
const settled = computed(() => data.value && find.value === typed.value && !isFetching.value)
const here = computed(() => (route.path.startsWith('/rigs/') && Number(route.params.id)) || null)
const { data: of } = useQuery(sheet(here))

const current = computed(() => (here.value && of.value?.rig.id === here.value ? of.value.rig : null))

function go(rig: { id: number } | null) {
  typed.value = ''
  if (rig) void router.push({ name: 'rig', params: { id: rig.id } })
}
</script>

<template>
  <Combobox :model-value="current" by="id" nullable as="div" class="relative" @update:model-value="go">
    <span class="pointer-events-none absolute top-1/2 left-3 -translate-y-1/2 text-sm text-soft" aria-hidden="true"
      >Find</span
    >
    <ComboboxInput
      id="rig-finder"
      class="input min-h-9 py-1 pr-8 pl-13 font-semibold"
      aria-label="Find a rig"
      autocomplete="off"
      :display-value="(r: any) => (r ? rigName(r) : '')"
      @focus="(($event.target as HTMLInputElement).select(), (looked = true))"
      @change="typed = $event.target.value"
    />
    <kbd
      class="pointer-events-none absolute top-1/2 right-2 hidden -translate-y-1/2 rounded-sm border border-hairline px-1.5 text-xs text-soft sm:block"
      >/</kbd
    >
    <ComboboxOptions class="absolute z-30 mt-1 w-80 max-w-[90vw] border border-soft bg-paper py-1 outline-none">
      <ComboboxOption v-for="r in matching" :key="r.id" v-slot="{ active }" :value="r" as="template">
        <li class="cursor-pointer px-3 py-2" :class="{ 'bg-tealwash': active }">
          <span class="font-semibold">{{ rigName(r) }}</span> <span class="text-soft">{{ r.kind_name }}</span>
          <span class="block truncate text-sm text-soft">{{ say(r.words) }}</span>
        </li>
      </ComboboxOption>
      <li v-if="settled && !matching.length" class="px-3 py-2 text-soft">No rig of that name here.</li>
    </ComboboxOptions>
  </Combobox>
</template>

<script setup lang="ts">
/** What the Yard is narrowed to: by what is said of rigs, by tags, or by a view that was kept. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import { queries } from '@/shared/session'
import { whileAnew } from '@/shared/soon'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'
import { askedOf, queryOf, type About, type Asked } from './queries'

const props = defineProps<{ yard: Schemas['YardOut']; asked: Asked; count: number; narrowed: boolean }>()
const emit = defineEmits<{ narrow: [to: Partial<Asked>] }>()
const route = useRoute()
const tags = useQuery({ queryKey: ['yard', 'tags'], queryFn: () => answer(api.GET('/api/v1/tags')) })
const views = useQuery({ queryKey: ['views'], queryFn: () => answer(api.GET('/api/v1/views')) })
// It takes every tire of the fleet: asked apart, so that the Yard does not wait for it.
const today = useQuery({
  queryKey: ['yard', 'air'],
  queryFn: () => answer(api.GET('/api/v1/morning/air')),
  refetchInterval: (query) => whileAnew(query.state.data?.anew),
})
const spoken = (n: number) => n.toLocaleString('en-US')
const turned = <T,>(list: T[], one: T) => (list.includes(one) ? list.filter((x) => x !== one) : [...list, one])
const line = (about: About) => emit('narrow', { lines: turned(props.asked.lines, about) })
const csv = computed(() => {
  const { lines, tags, ...rest } = props.asked
  const plain = Object.entries(rest).map(([k, v]) => [k, String(v)])
  const many = [...lines.map((l) => ['lines', l]), ...tags.map((t) => ['tags', String(t)])]
  return `/api/v1/yard/rigs.csv?${new URLSearchParams([...plain, ...many] as [string, string][]).toString()}`
})
const naming = ref(false)
const form = ref({ name: '' })
const { save: keep, fields } = useSave(async () => {
  const query = now.value
  queries.setQueryData(['views'], await answer(api.POST('/api/v1/views', { body: { name: form.value.name, query } })))
  form.value.name = ''
  naming.value = false
})
const { save: forget } = useSave(async (view: number) => {
  const left = await answer(api.DELETE('/api/v1/views/{view_id}', { params: { path: { view_id: view } } }))
  queries.setQueryData(['views'], left)
})
const now = computed(() => queryOf(route.fullPath))
</script>

<template>
  <div>
    <div
      class="flex flex-wrap items-center gap-2 text-sm max-sm:flex-nowrap max-sm:overflow-x-auto max-sm:pb-2"
      role="group"
      aria-label="Only rigs with"
    >
      <button
        v-if="today.data.value?.rigs || asked.air"
        type="button"
        class="press chip px-2.5 py-1"
        :aria-pressed="asked.air"
        @click="emit('narrow', { air: !asked.air })"
      >
        Air today <b v-if="today.data.value">{{ spoken(today.data.value.rigs) }}</b>
      </button>
      <button
        v-if="today.data.value?.dawn || asked.dawn"
        type="button"
        class="press chip px-2.5 py-1"
        :aria-pressed="asked.dawn"
        @click="emit('narrow', { dawn: !asked.dawn })"
      >
        Before a dawn <b v-if="today.data.value">{{ spoken(today.data.value.dawn) }}</b>
      </button>
      <button
        v-for="l in yard.lines"
        :key="l.key"
        type="button"
        class="press chip px-2.5 py-1"
        :aria-pressed="asked.lines.includes(l.key)"
        @click="line(l.key)"
      >
        {{ l.name }} <b>{{ spoken(l.rigs) }}</b>
      </button>
      <button
        v-if="yard.unassigned || asked.unassigned"
        type="button"
        class="press chip px-2.5 py-1"
        :aria-pressed="asked.unassigned"
        @click="emit('narrow', { unassigned: !asked.unassigned })"
      >
        Unassigned <b>{{ spoken(yard.unassigned) }}</b>
      </button>
      <button
        v-for="t in tags.data.value ?? []"
        :key="t.id"
        type="button"
        class="press chip border-dashed px-2.5 py-1"
        :aria-pressed="asked.tags.includes(t.id)"
        @click="emit('narrow', { tags: turned(asked.tags, t.id) })"
      >
        {{ t.name }} <b>{{ spoken(t.rigs) }}</b>
      </button>
      <span v-if="narrowed" class="whitespace-nowrap text-soft" role="status"
        >{{ spoken(count) }} {{ count === 1 ? 'fits' : 'fit' }}</span
      >
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
      <slot />
      <span v-for="v in views.data.value ?? []" :key="v.id" class="flex items-center gap-1.5">
        <button
          type="button"
          class="link"
          :aria-current="v.query === now || undefined"
          @click="emit('narrow', askedOf(v.query))"
        >
          {{ v.name }}
        </button>
        <button
          v-if="v.query === now"
          type="button"
          class="link text-soft"
          :aria-label="`Forget the view ${v.name}`"
          @click="forget(v.id)"
        >
          forget it
        </button>
      </span>
      <EntryForm v-if="naming" :refused="fields" class="flex items-start gap-3" @submit="keep()">
        <TextField v-model="form.name" label="What you call this view" name="name" class="w-52" />
        <button class="button mt-6">Keep</button>
        <button type="button" class="link mt-8" @click="naming = false">Not now</button>
      </EntryForm>
      <button v-else-if="narrowed" type="button" class="link" @click="naming = true">Keep this view</button>
      <a class="font-semibold" :href="csv" download>CSV</a>
    </div>
  </div>
</template>

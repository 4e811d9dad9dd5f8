<script setup lang="ts">
/**
 * Pictures of one thing: of a place of a rig, of a ticket, of a wheel in a round. Taken or chosen, made smaller here, kept on
 * their way like readings; a rig that is not saved yet holds them itself.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onUnmounted, ref, useId } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import { mine, onPicture, photograph, withdraw } from '@/shared/outbox'
import { spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { shrink } from './shrink'
import Refusal from './Refusal.vue'

type Picture = Schemas['PictureIn']
const props = defineProps<{
  /** The stored rig; without one what is taken goes to `held`. */
  rig?: number | undefined
  rigName: string
  /** What is shown is what has all of this in common; what is taken gets it. */
  of: Partial<Omit<Picture, 'content'>>
  label?: string
  mayTake?: boolean
  /** In a row of chips: its button is one of them, the pictures stand under the row. */
  chip?: boolean
  /** What was taken is shown elsewhere. */
  bare?: boolean
}>()
const held = defineModel<Picture[]>('held', { default: () => [] })
const queries = useQueryClient()
const key = computed(() => ['rig', props.rig, 'pictures'])
const { data } = useQuery({
  queryKey: key,
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/pictures', { params: { path: { rig_id: props.rig! } } })),
  enabled: computed(() => props.rig !== undefined),
})
const again = () => queries.invalidateQueries({ queryKey: key.value })
onUnmounted(onPicture(() => void again()))

interface Shown {
  id: string
  src: string
  words: string
  takeOff: (() => void) | null
}
const same = (p: object) => Object.entries(props.of).every(([k, v]) => (p as Record<string, unknown>)[k] === v)
const inline = (content: string) => `data:image/jpeg;base64,${content}`
const shown = computed<Shown[]>(() => [
  ...(data.value?.pictures ?? []).filter(same).map((p) => ({
    id: p.uuid,
    src: `/api/v1/pictures/${p.uuid}/file`,
    words: `${p.name}${p.wheel && !props.of.wheel ? ` ${p.wheel}` : ''}, ${spokenDay(p.taken_at)}, ${p.taken_by}`,
    takeOff: p.own ? () => void off(p.uuid) : null,
  })),
  ...mine.value.flatMap((u) =>
    u.picture && u.picture.rig === props.rig && same(u.picture.body)
      ? [
          {
            id: u.uuid,
            src: inline(u.picture.body.content),
            words: u.refused ? `Refused: ${u.refused}` : 'Not on the server yet',
            takeOff: () => void withdraw(u.uuid),
          },
        ]
      : [],
  ),
  ...held.value.flatMap((p, i) =>
    same(p)
      ? [
          {
            id: `held ${i}`,
            src: inline(p.content),
            words: 'Kept here until the rig is saved',
            takeOff: () => (held.value = held.value.filter((_, at) => at !== i)),
          },
        ]
      : [],
  ),
])

const wrong = ref('')
const working = ref(false)
const id = useId()
const input = ref<HTMLInputElement>()
/** Asks for a picture, as a press on its own button does. */
defineExpose({ choose: () => input.value?.click() })
async function take(event: Event) {
  const from = event.target as HTMLInputElement
  wrong.value = ''
  working.value = true
  for (const file of [...(from.files ?? [])]) {
    try {
      const body = { ...props.of, what: props.of.what ?? 'other', content: await shrink(file) } as Picture
      if (props.rig === undefined) held.value = [...held.value, body]
      else await photograph(props.rig, props.rigName, body)
    } catch (error) {
      wrong.value = `${file.name}: ${(error as Error).message}`
    }
  }
  from.value = ''
  working.value = false
}
const gone = ref('')
const { save: off, message } = useSave(async (uuid: string) => {
  await answer(api.DELETE('/api/v1/pictures/{uuid}', { params: { path: { uuid } } }))
  gone.value = uuid
  await again()
})
const { save: putBack } = useSave(async () => {
  await answer(api.POST('/api/v1/pictures/{uuid}/restore', { params: { path: { uuid: gone.value } } }))
  gone.value = ''
  await again()
})
</script>

<template>
  <div v-if="mayTake || shown.length">
    <ul v-if="shown.length && !bare" class="flex flex-wrap gap-3" :class="chip ? 'order-last w-full' : 'mb-2'">
      <li v-for="p in shown" :key="p.id" class="w-40 text-xs text-soft">
        <a :href="p.src" target="_blank" rel="noopener" :aria-label="`${p.words}: open it large`">
          <img :src="p.src" alt="" class="h-28 w-40 border border-hairline bg-paper object-contain" loading="lazy" />
        </a>
        <span class="mt-0.5 block">{{ p.words }}</span>
        <button v-if="p.takeOff" type="button" class="link" @click="p.takeOff()">Take it off</button>
      </li>
    </ul>
    <p class="flex flex-wrap items-center gap-x-4 gap-y-1">
      <span
        v-if="mayTake"
        class="relative inline-block focus-within:outline-3 focus-within:outline-offset-2 focus-within:outline-teal"
      >
        <label
          :for="id"
          :class="chip ? 'press chip flex min-h-10 items-center px-3' : 'button min-h-11 text-sm'"
          class="cursor-pointer"
          >{{ working ? 'Making it smaller …' : (label ?? 'Take a picture') }}</label
        >
        <input
          :id="id"
          ref="input"
          type="file"
          accept="image/*"
          multiple
          class="absolute inset-0 w-full cursor-pointer opacity-0"
          @change="take"
        />
      </span>
      <span v-if="gone" class="text-sm">
        It is off. <button type="button" class="link" @click="putBack()">Put it back</button>
      </span>
    </p>
    <Refusal :message="wrong || message" />
  </div>
</template>

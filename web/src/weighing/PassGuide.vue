<script setup lang="ts">
/** Where to stand for which pass, in order: the reading, Enter, next. The plan shows what is on the scale. */
import { computed, nextTick, ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import QuantityField from '@/shared/QuantityField.vue'
import { say, type Entry } from '@/shared/units'
import Opening from '@/shared/Opening.vue'
import Working from '@/shared/Working.vue'

export interface Pass {
  words: string
  on: string[]
  wheels: string[]
  apart: number
  kg: Entry
}
const props = defineProps<{
  ticket: Schemas['PassesOut'] | null
  stale: boolean
  message: (field: string) => string | undefined
  /** Asks a connected scale; none is connected without it. */
  ask?: ((pass: Pass) => Promise<void>) | undefined
  remark?: string
}>()
const passes = defineModel<Pass[]>({ required: true })
const emit = defineEmits<{ stand: [wheels: string[]] }>()
const at = ref(0)
const list = ref<HTMLElement>()
/** Readings go on in the order of the entered ones: what is left out is not sent. */
const sent = computed(() => {
  let n = 0
  return passes.value.map((p) => (p.kg === null ? -1 : n++))
})
const doubted = (i: number) => sent.value[i]! >= 0 && (props.ticket?.doubt.includes(sent.value[i]!) ?? false)
const message = (i: number) =>
  sent.value[i]! >= 0
    ? (props.message(`passes.${sent.value[i]}`) ?? props.message(`passes.${sent.value[i]}.kg`))
    : undefined

function stand(i: number) {
  at.value = i
  emit('stand', passes.value[i]!.wheels)
}
async function onward(event: KeyboardEvent, i: number) {
  if (passes.value[i]!.kg === null || i + 1 >= passes.value.length) return
  event.preventDefault()
  await nextTick()
  list.value?.querySelectorAll<HTMLInputElement>('input')[i + 1]?.focus()
}
async function read(i: number) {
  await props.ask!(passes.value[i]!)
  await nextTick()
  list.value?.querySelectorAll<HTMLElement>('input')[Math.min(i + 1, passes.value.length - 1)]?.focus()
}
</script>

<template>
  <div>
    <ol ref="list" class="border-t border-hairline">
      <li
        v-for="(p, i) in passes"
        :key="i"
        class="grid items-center gap-x-5 gap-y-1 border-b border-hairline py-2 pl-3 sm:grid-cols-[1fr_15rem]"
        :class="[i === at ? 'border-l-4 border-l-teal bg-paper' : 'border-l-4 border-l-transparent']"
        @focusin="stand(i)"
      >
        <p>
          <span class="mr-2 font-bold">{{ i + 1 }}</span>
          <span :class="i === at ? 'font-semibold' : ''">{{ p.words }}</span>
          <span v-if="doubted(i)" class="ml-2 font-semibold text-rust">doubt this reading</span>
        </p>
        <div class="flex items-start gap-2">
          <QuantityField
            v-model="p.kg"
            class="flex-1"
            bare
            :label="`Pass ${i + 1}`"
            kind="mass"
            :message="message(i)"
            @keydown.enter="onward($event, i)"
          />
          <button v-if="ask" type="button" class="button" @click="read(i)">Read</button>
        </div>
      </li>
    </ol>
    <p v-if="remark" class="mt-2 font-semibold" role="status">{{ remark }}</p>
    <div v-if="ticket" class="mt-3" :class="{ stale }">
      <p v-for="(n, i) in ticket.notes" :key="i" :class="ticket.doubt.length ? 'font-semibold text-rust' : ''">
        {{ say(n) }}
      </p>
      <p v-if="ticket.unknown.length" class="mt-1">
        <span class="font-semibold">Still unknown:</span> {{ ticket.unknown.join(', ') }}.
      </p>
      <p v-if="ticket.next" class="mt-1">
        <span class="font-semibold">One more pass:</span> {{ ticket.next.words }}. It tells {{ ticket.next_tells }}.
      </p>
      <Opening v-if="ticket.working.length" label="Working" class="mt-1 max-w-xl text-sm">
        <Working :lines="ticket.working" />
      </Opening>
    </div>
  </div>
</template>

<script setup lang="ts">
/** What is not on the server yet, told on every page: whose it is, why it waits, and what can be done. */
import { useNow } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { signInExpired } from '@/shared/api/client'
import { adrift } from '@/shared/kept'
import { isMine, mine, others, sendNow, takeOver, unsent, withdraw, type Unsent } from '@/shared/outbox'
import { useSession } from '@/shared/session'
import { spokenDay } from '@/shared/units'

const { shown: session } = useSession()
const open = ref(false)
const sure = ref('')
const now = useNow({ interval: 1000 })
/** What goes through within a moment is not worth a word. */
const SOON_MS = 2500
const waiting = computed(() =>
  unsent.value.filter((u) => !isMine(u) || u.refused || u.failed || now.value.getTime() - u.at > SOON_MS),
)
const refused = computed(() => mine.value.filter((u) => u.refused).length)
const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`
const words = computed(() =>
  [
    count(waiting.value.length, 'entry is', 'entries are') + ' not on the server yet',
    refused.value ? `${refused.value} refused` : '',
    others.value.length ? `${others.value.length} of somebody else` : '',
  ]
    .filter(Boolean)
    .join(', '),
)
watch(
  () => waiting.value.length,
  (n) => n || (open.value = false),
)

/** What is of another workspace is nobody's business here but that it waits. */
const foreign = (u: Unsent) => u.owner !== null && u.owner.workspace !== session.value?.workspace?.id
const what = (u: Unsent) =>
  foreign(u)
    ? 'An entry'
    : u.ground
      ? 'Of a ground plan'
      : u.lamp
        ? 'What the lamp came to'
        : u.picture
          ? 'A picture'
          : u.reading
            ? `${u.reading.wheel}: ${u.reading.pressure}${u.reading.after ? ' after the air' : ''}`
            : `${u.note?.wheel}: a note`
function why(u: Unsent): string {
  if (u.refused) return `Refused: ${u.refused}`
  if (!u.owner) return 'It is not known whose it is.'
  if (foreign(u)) return `Waits for ${u.owner.name} in ${u.owner.workspaceName}.`
  if (!isMine(u)) return `Waits for ${u.owner.name}.`
  if (u.failed) return `${u.failed} The others went past it; it is tried again.`
  return adrift.value ? 'Waits for the network.' : 'Waits for the server.'
}
const mayTake = (u: Unsent) => !isMine(u) && !foreign(u)

function save(): void {
  const entries = unsent.value.filter((u) => !foreign(u))
  const text = JSON.stringify({ format: 'gentle-ballast/unsent', version: 1, entries }, null, 2)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
  link.download = 'unsent-readings.json'
  link.click()
  URL.revokeObjectURL(link.href)
}
function takeBack(u: Unsent): void {
  if (sure.value !== u.uuid) sure.value = u.uuid
  else void withdraw(u.uuid)
}
</script>

<template>
  <section
    v-if="waiting.length && !signInExpired"
    aria-label="Not on the server yet"
    class="border-b border-hairline bg-rustwash px-4 py-1.5 text-[0.93rem] print:hidden"
  >
    <p class="flex flex-wrap items-center gap-x-4" role="status">
      <span class="font-semibold">{{ words }}.</span>
      <button v-if="session?.workspace" type="button" class="link" :aria-expanded="open" @click="open = !open">
        {{ open ? 'Close' : 'Look at them' }}
      </button>
      <span v-else>Sign in to send what is yours.</span>
      <button v-if="mine.length" type="button" class="link" @click="sendNow">Send now</button>
    </p>
    <template v-if="open && session?.workspace">
      <ul v-scrolls="'Entries that wait'" class="mt-1 max-h-[40vh] overflow-auto">
        <li v-for="u in waiting" :key="u.uuid" class="flex flex-wrap gap-x-3 border-t border-hairline py-1">
          <b>{{ what(u) }}</b>
          <span>{{ foreign(u) ? '' : `${u.rig}, ` }}{{ spokenDay(new Date(u.at).toISOString()) }}</span>
          <span :class="u.refused ? 'text-rust' : 'text-soft'">{{ why(u) }}</span>
          <button v-if="mayTake(u)" type="button" class="link" @click="takeOver(u)">
            Send it as {{ session?.name }}
          </button>
          <button v-if="isMine(u) || !u.owner" type="button" class="link" @click="takeBack(u)">
            {{ sure === u.uuid ? 'Really throw it away' : 'Throw it away' }}
          </button>
        </li>
      </ul>
      <button type="button" class="link mt-1" @click="save">Save them as a file</button>
    </template>
  </section>
</template>

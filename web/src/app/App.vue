<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import Enter from '@/accounts/Enter.vue'
import FirstRun from '@/accounts/FirstRun.vue'
import { signInExpired } from '@/shared/api/client'
import FailedReads from './FailedReads.vue'
import KeyHelp from './KeyHelp.vue'
import NewVersion from './NewVersion.vue'
import NotYours from './NotYours.vue'
import PracticeBar from '@/practice/PracticeBar.vue'
import { refreshAll } from '@/rigs/queries'
import { onStored } from '@/shared/outbox'
import { STAGES } from './router'
import { changes, leftUntold, useSession } from '@/shared/session'
import TopBar from './TopBar.vue'
import Unsent from './Unsent.vue'

const { shown: session, error, refetch, may } = useSession()
const route = useRoute()
const router = useRouter()
const keysShown = ref(false)
// Another person, or another workspace: the page begins anew in the Yard.
watch(changes, () => void router.push('/'))
// Entries that came when their round was over are told of on every page, the later ones as the first.
onScopeDispose(onStored((entered) => (entered.sealed_at || entered.abandoned_at) && void refreshAll()))

function writing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
}

const inQuantity = (target: EventTarget | null) =>
  target instanceof HTMLInputElement && ['decimal', 'none', 'numeric'].includes(target.inputMode)

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.altKey && /^[1-7]$/.test(event.key) && route.params.id) {
    event.preventDefault()
    void router.push({ name: STAGES[Number(event.key) - 1]!, params: { id: route.params.id } })
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  // No quantity has a question mark in it: in its field too it asks for the keys.
  if (event.key === '?' && (!writing(event.target) || inQuantity(event.target))) {
    event.preventDefault()
    keysShown.value = true
  }
  if (writing(event.target)) return
  if (event.key === '/') {
    event.preventDefault()
    document.getElementById('rig-finder')?.focus()
  }
})
</script>

<template>
  <NewVersion />
  <p v-if="error && !session" class="mx-auto max-w-xl px-5 py-16" role="alert">
    The server does not answer.
    <button type="button" class="link" @click="() => refetch()">Try again</button>
  </p>
  <template v-else-if="session">
    <p v-if="leftUntold && !session.workspace" class="bg-rustwash px-4 py-2 text-center" role="status">
      You are signed out on this page. The server does not answer: it is told as soon as it does.
    </p>
    <Unsent v-if="!session.workspace" />
    <FirstRun v-if="session.first_run" />
    <RouterView v-else-if="route.name === 'join'" />
    <Enter v-else-if="!session.workspace" />
    <template v-else>
      <!-- Under a sign-in the page waits as it was, out of reach. -->
      <div :inert="signInExpired">
        <TopBar :session="session" @keys="keysShown = true" />
        <PracticeBar v-if="session.practice" :key="changes" />
        <Unsent />
        <FailedReads />
        <NotYours v-if="route.meta.needs && !may(String(route.meta.needs))" :what="String(route.meta.what)" />
        <RouterView v-else :key="changes" />
      </div>
      <KeyHelp v-model:open="keysShown" />
      <Enter v-if="signInExpired" over />
    </template>
  </template>
</template>

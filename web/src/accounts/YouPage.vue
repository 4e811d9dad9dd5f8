<script setup lang="ts">
/** One's own sign-in: the password, the second factor, what is open where, and keys for scripts. */
import { useSession } from '@/shared/session'
import ApiKeys from './ApiKeys.vue'
import Factor from './Factor.vue'
import OpenSessions from './OpenSessions.vue'
import PasswordChange from './PasswordChange.vue'
import Workspaces from './Workspaces.vue'

const { session } = useSession()
</script>

<template>
  <main id="stage" class="mx-auto max-w-3xl space-y-8 px-4 py-6 lg:px-7">
    <h1>Sign-in of {{ session?.name }}</h1>
    <PasswordChange />
    <Factor />
    <OpenSessions />
    <ApiKeys />
    <Workspaces />
  </main>
</template>

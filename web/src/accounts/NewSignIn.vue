<script setup lang="ts">
/** A sign-in that is new: its name and its password. */
import TextField from '@/shared/TextField.vue'

defineProps<{ told?: boolean }>()
const username = defineModel<string>('username', { required: true })
const password = defineModel<string>('password', { required: true })
</script>

<template>
  <TextField v-model="username" label="Sign-in name" autocomplete="username" name="username" />
  <TextField
    v-model="password"
    :label="told ? 'First password' : 'Password'"
    type="password"
    :hint="told ? 'At least 10 characters; tell it to them' : 'At least 10 characters'"
    autocomplete="new-password"
    name="password"
  />
</template>

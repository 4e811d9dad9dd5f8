<script setup lang="ts">
/** Where a ticket can come from beside typing: a file, or a connected scale. */
import type { Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import FileField from '@/shared/FileField.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { FAULTS, type Scale } from './useScale'

defineProps<{
  guided: boolean
  bring: {
    busy: boolean
    fields: Record<string, string>
    message: string
    save: (file: Schemas['FileIn']) => Promise<void>
  }
}>()
const scale = defineModel<Scale>('scale', { required: true })
</script>

<template>
  <Opening class="mt-1" label="A ticket from a file, or a connected scale">
    <FileField
      class="max-w-xl"
      label="Scale ticket, JSON or CSV"
      accept=".json,.csv,application/json,text/csv"
      :busy="bring.busy"
      :message="bring.fields.content || bring.fields.with_trailers || bring.message"
      @chosen="bring.save"
    />
    <div v-if="guided && scale.choices.length > 1" class="mt-3 flex flex-wrap items-end gap-4">
      <ChoiceField v-model="scale.connected" class="w-64" label="Connected scale" :choices="scale.choices" />
      <template v-if="scale.connected">
        <ChoiceField v-model="scale.fault" class="w-56" label="Play what goes wrong" :choices="FAULTS" />
        <button type="button" class="link min-h-10" @click="scale.issue('json')">Ticket as JSON</button>
        <button type="button" class="link min-h-10" @click="scale.issue('csv')">Ticket as CSV</button>
      </template>
    </div>
    <p v-else-if="scale.known" class="mt-2 text-sm text-soft">Choose how it is weighed to read a connected scale.</p>
    <Refusal :message="scale.message" />
  </Opening>
</template>

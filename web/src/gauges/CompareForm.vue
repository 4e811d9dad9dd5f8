<script setup lang="ts">
/** A gauge held against a master: pairs going up and coming down, typed or from the bench. */
import { computed } from 'vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { figure, unitOf } from '@/shared/units'
import type { Comparison } from './useComparison'

const props = defineProps<{ comparison: Comparison; label: string; inUse: number[]; bench: boolean }>()
const emit = defineEmits<{ leave: [] }>()
const form = computed(() => props.comparison.form)
</script>

<template>
  <EntryForm
    :refused="comparison.fields"
    class="mt-4 border-l-4 border-teal pl-4 print:hidden"
    @submit="comparison.record()"
  >
    <p class="text-soft">
      At the pressures in use, going up and coming down again, one or two repeated: that shows lag and scatter.
      <b v-if="inUse.length"
        >In use here: {{ inUse.map((p) => figure('pressure', p, 'up')).join(', ') }} {{ unitOf('pressure') }}.</b
      >
    </p>
    <div class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-4">
      <TextField v-model="form.reference" label="Master" name="reference" />
      <TextField v-model="form.compared_on" label="Compared on" type="date" name="compared_on" />
      <TextField v-model="form.certificate" label="Its certificate" name="certificate" />
      <TextField
        v-model="form.certificate_until"
        label="Certificate valid until"
        type="date"
        name="certificate_until"
      />
      <QuantityField
        v-model="form.master_u_kpa"
        label="Master's standard uncertainty"
        kind="pressure"
        hint="Empty: half a percent is taken"
        name="master_u_kpa"
      />
      <TextField v-model="form.note" class="col-span-2" label="Note" name="note" />
    </div>
    <div
      v-for="(p, i) in form.pairs"
      :key="i"
      class="mt-3 grid max-w-2xl grid-cols-[1fr_1fr_auto_auto] items-end gap-3"
    >
      <QuantityField
        v-model="p.reference"
        :label="`Master, ${i + 1}`"
        kind="pressure"
        :message="comparison.at(p, 'reference')"
      />
      <QuantityField
        v-model="p.reading"
        :label="`${label} shows, ${i + 1}`"
        kind="pressure"
        :message="comparison.at(p, 'reading')"
      />
      <button
        type="button"
        class="button w-24"
        :aria-label="`Pair ${i + 1}: ${p.direction === 'down' ? 'coming down' : 'going up'}`"
        @click="p.direction = p.direction === 'down' ? 'up' : 'down'"
      >
        {{ p.direction === 'down' ? 'down' : 'up' }}
      </button>
      <button v-if="bench" type="button" class="link min-h-10" @click="comparison.fromBench(p)">From the bench</button>
    </div>
    <div class="mt-3 flex flex-wrap items-center gap-4">
      <button class="button button-next" :disabled="comparison.busy || !comparison.filled.length">
        Record the comparison
      </button>
      <button type="button" class="link" @click="comparison.more()">One more</button>
      <button type="button" class="link" @click="emit('leave')">Not now</button>
      <Refusal :message="comparison.refused" />
    </div>
  </EntryForm>
</template>

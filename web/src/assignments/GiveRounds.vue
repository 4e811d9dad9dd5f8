<script setup lang="ts">
/** The rounds of some rigs, to somebody, for a day: told before what it comes to, and taken back after. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { today } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import { refreshGiven } from './queries'
import { toOf, useWho } from './useWho'

const props = defineProps<{ rigs: number[] }>()
const emit = defineEmits<{ done: [] }>()
const { who } = useWho()
const form = reactive({ to: '', on: today(), note: '' })
const body = computed(() => ({ rigs: props.rigs, to: toOf(form.to), on: form.on, note: form.note }))
/** What it would come to: asked while somebody chooses. */
const { data: told } = useQuery({
  queryKey: ['yard', 'give', body],
  queryFn: () => answer(api.POST('/api/v1/work/assignments', { body: body.value })),
  enabled: computed(() => Boolean(form.to && form.on && props.rigs.length)),
  placeholderData: keepPreviousData,
  retry: false,
})
const once = useOnce()
const given = ref<{ uuid: string; words: string } | null>(null)
const rounds = (n: number) => `${n} ${n === 1 ? 'round' : 'rounds'}`
const { save, busy, fields, message } = useSave(async () => {
  const uuid = once.idOf(body.value)
  const made = await answer(api.POST('/api/v1/assignments', { body: { ...body.value, uuid } }))
  once.stored()
  given.value = { uuid, words: `${rounds(made.given)} given to ${made.to}.` }
  await refreshGiven()
})
const { save: undo, message: not } = useSave(async () => {
  await answer(api.DELETE('/api/v1/assignments/batches/{uuid}', { params: { path: { uuid: given.value!.uuid } } }))
  given.value = null
  await refreshGiven()
})
</script>

<template>
  <div class="border-l-4 border-teal bg-paper px-4 py-3">
    <p v-if="given" role="status" class="flex flex-wrap items-center gap-x-5">
      <b>{{ given.words }}</b>
      <button type="button" class="link" @click="undo()">Take that back</button>
      <button type="button" class="link" @click="emit('done')">Done</button>
      <Refusal :message="not" />
    </p>
    <EntryForm v-else :refused="fields" class="flex flex-wrap items-start gap-x-4 gap-y-3" @submit="save()">
      <ChoiceField v-model="form.to" class="w-56" label="Give the rounds to" :choices="who" name="to.member" />
      <TextField v-model="form.on" class="w-44" label="By" type="date" name="on" />
      <TextField v-model="form.note" class="w-64" label="Note" name="note" />
      <button class="button button-next mt-6" :disabled="busy || !form.to || !told?.given">
        Give {{ told && form.to ? rounds(told.given) : 'them' }}
      </button>
      <button type="button" class="link mt-8" @click="emit('done')">Not now</button>
      <div v-if="told && form.to" class="basis-full text-sm" role="status">
        <p>
          {{ rounds(told.given) }} to {{ told.to
          }}<template v-if="told.moved">, {{ told.moved }} of them from somebody else</template>.
        </p>
        <Opening v-if="told.not_given.length" :label="`${told.not_given.length} not given`">
          <ul class="max-h-40 overflow-auto">
            <li v-for="n in told.not_given" :key="n.rig">
              <b>{{ n.name }}</b> {{ n.words }}
            </li>
          </ul>
        </Opening>
      </div>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
  </div>
</template>

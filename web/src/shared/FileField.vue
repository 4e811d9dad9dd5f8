<script setup lang="ts">
/** A file, chosen or dropped, given on as the server takes it. Too large a one is not sent. */
import { computed, ref, useId } from 'vue'
import type { Schemas } from './api/client'
import { fileIn } from './files'
import Refusal from './Refusal.vue'
import { useRefusal } from './refusals'
import { useSession } from './session'

const props = defineProps<{
  label: string
  name?: string
  accept: string
  busy?: boolean
  /** Given on as it is: whoever takes it sends it in parts. */
  whole?: boolean
  message?: string | undefined
}>()
const emit = defineEmits<{ chosen: [file: Schemas['FileIn']]; picked: [file: File] }>()
const refusal = useRefusal(props)
const id = useId()
const chosen = ref('')
const tooLarge = ref('')
const over = ref(false)
const { session } = useSession()
/** The server's bound, so that twenty megabytes are not sent in vain; it checks again. */
const most = computed(() => session.value?.most_file_bytes ?? 0)

async function take(file: File | undefined) {
  if (!file) return
  chosen.value = file.name
  tooLarge.value = ''
  if (props.whole) {
    emit('picked', file)
    return
  }
  if (file.size > most.value) {
    tooLarge.value = `The file has ${file.size.toLocaleString('en-US')} bytes, the most is ${most.value.toLocaleString('en-US')}. Split it.`
    return
  }
  emit('chosen', await fileIn(file))
}
function choose(event: Event) {
  const input = event.target as HTMLInputElement
  void take(input.files?.[0])
  // The same file may be chosen again once it is mended.
  input.value = ''
}
</script>

<template>
  <div
    class="border border-dashed px-4 py-3"
    :class="over ? 'border-teal bg-tealwash' : 'border-soft bg-paper'"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="((over = false), take($event.dataTransfer?.files[0]))"
  >
    <label :for="id" class="label">{{ label }}</label>
    <input
      :id="id"
      type="file"
      :accept="accept"
      class="block min-h-11 w-full py-1 max-w-full text-sm text-transparent file:mr-3 file:cursor-pointer file:rounded-md file:border file:border-teal file:bg-paper file:px-3 file:py-1.5 file:font-semibold file:text-teal"
      :aria-invalid="refusal || tooLarge ? true : undefined"
      :aria-describedby="refusal || tooLarge ? `${id}-no` : undefined"
      @change="choose"
    />
    <p v-if="chosen" class="mt-1 text-sm text-soft">{{ busy ? `Reading ${chosen} …` : chosen }}</p>
    <Refusal :id="`${id}-no`" :message="tooLarge || refusal" />
  </div>
</template>

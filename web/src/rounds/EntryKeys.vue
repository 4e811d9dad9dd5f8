<script setup lang="ts">
/** What can be done at a wheel beside typing: on, not rolled, once more, back, and the seal. */
import { useSession } from '@/shared/session'
import type { Typing } from './useEntry'
import type { OpenRound, Wheel } from './useRound'

defineProps<{ here: OpenRound; typing: Typing; wheel: Wheel; touch: boolean }>()
const emit = defineEmits<{ seal: [] }>()
const { may } = useSession()
</script>

<template>
  <div class="mt-3 flex flex-wrap gap-2.5">
    <button
      type="button"
      class="button"
      :class="{ 'button-next': here.unread.length || typing.entry !== null, 'max-lg:hidden': touch }"
      @click="typing.keep"
    >
      {{ typing.entry === null ? (typing.after ? 'No second reading, next' : 'Next wheel') : 'Keep, next wheel' }}
      <span aria-hidden="true">↵</span>
    </button>
    <button
      v-if="!wheel.spare"
      type="button"
      class="button"
      :aria-pressed="typing.notRolled"
      :class="{ 'bg-tealwash': typing.notRolled }"
      title="Alt+N"
      @click="typing.sayNotRolled"
    >
      {{ typing.notRolled ? '✓ ' : '' }}Has not rolled like this
    </button>
    <button v-if="wheel.before" type="button" class="button" title="Alt+R" @click="typing.readAgain">Read again</button>
    <button v-if="typing.lastMine" type="button" class="button max-lg:hidden" title="Alt+U" @click="typing.undo()">
      Take {{ typing.lastMine.wheel }} back
    </button>
    <button
      v-if="may('rounds')"
      type="button"
      class="button sm:ml-auto"
      :class="{ 'button-next': !here.unread.length && typing.entry === null }"
      :disabled="Boolean(here.waiting.length)"
      @click="emit('seal')"
    >
      Seal the round
    </button>
  </div>
</template>

<script setup lang="ts">
/** Who has a rig's round to do; taken or handed over from here. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useSession } from '@/shared/session'
import GiveRounds from './GiveRounds.vue'
import HandOver from './HandOver.vue'
import { assignedOf } from './queries'

const props = defineProps<{ rig: number }>()
const { may } = useSession()
const { data } = useQuery(computed(() => assignedOf(props.rig)))
const giving = ref(false)
</script>

<template>
  <div>
    <p v-for="a in data ?? []" :key="a.id" class="flex flex-wrap items-center gap-x-4">
      <span
        ><b>{{ a.yours ? 'Yours to do' : `${a.to} has its round` }}</b
        >, <span :class="{ 'font-semibold text-rust': a.over }">{{ a.when }}</span><template v-if="a.note"
          >: “{{ a.note }}”</template
        ></span
      >
      <HandOver :given="a" />
    </p>
    <GiveRounds v-if="giving" :rigs="[rig]" class="mt-2" @done="giving = false" />
    <button v-else-if="may('assign')" type="button" class="link min-h-11" @click="giving = true">
      Give its round to somebody
    </button>
  </div>
</template>

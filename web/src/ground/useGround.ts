/** The ground of the rig in hand: its numbers as data, and its open plan with what is still on its way. */
import { useQuery } from '@tanstack/vue-query'
import { computed, onUnmounted, reactive, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { keep } from '@/shared/kept'
import { isMine, onGround, unsent, walk, type GroundItem } from '@/shared/outbox'
import { queries } from '@/shared/session'
import { groundOf, type Ground } from './queries'
import { asWalked } from './walked'

/** What is given, but for the plan and the rig. */
type Done<T> = T extends unknown ? Omit<T, 'plan' | 'rig'> : never

export function useGround() {
  const { id, sheet, whole } = useFrame()
  const head = computed(() => sheet.value.rig.head ?? id.value)
  watch(head, (now) => (whole.value = now === id.value), { immediate: true })
  const { data } = useQuery({ ...groundOf(head), refetchInterval: 15_000 })
  const waiting = computed(() => unsent.value.filter((u) => isMine(u) && u.ground?.rig === head.value))
  const open = computed(() => (data.value ? asWalked(data.value, head.value, waiting.value) : null))

  function take(now: Ground) {
    void queries.cancelQueries({ queryKey: ['rig', head.value, 'ground'], exact: true })
    const before = data.value?.open
    queries.setQueryData(['rig', head.value, 'ground'], now)
    void keep(`ground ${head.value}`, now)
    if (before?.uuid !== now.open?.uuid || before?.at !== now.open?.at) void refreshRig(id.value)
  }
  onUnmounted(onGround((now) => now.rig === head.value && take(now)))
  const put = (plan: string, done: Done<GroundItem>) =>
    walk(sheet.value.train[0]!.name, { plan, rig: head.value, ...done } as GroundItem)
  const refused = computed(() => waiting.value.filter((u) => u.refused))
  return reactive({ id, head, data, open, waiting, refused, put, take })
}
export type OnGround = ReturnType<typeof useGround>

/** Draws the load of each tire into the plan. */
import { computed, watch, type Ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import type { Schemas } from '@/shared/api/client'
import { BLANK_WHEEL, type WheelState } from '@/shared/scale'
import { figure, system, unitOf } from '@/shared/units'

export function useLoadsOnPlan(loads: Ref<Schemas['LoadsOut'] | null>, typed: Ref<boolean>): void {
  const { id, sheet, states, caption } = useFrame()
  const rig = computed(() => sheet.value.rig)
  const train = computed(() => sheet.value.train)
  const tows = computed(() => train.value.length > 1 && rig.value.head === null)
  watch(
    [loads, system, train],
    () => {
      const drawn: Record<string, WheelState> = {}
      for (const vehicle of tows.value ? train.value : [rig.value]) {
        const own = vehicle.id === id.value ? loads.value : loads.value?.others.find((o) => o.rig === vehicle.id)
        for (const wheel of vehicle.wheels) {
          const axle = wheel.axle ? own?.axles.find((a) => a.number === wheel.axle) : undefined
          const across = vehicle.axles.find((a) => a.number === wheel.axle)?.wheels ?? 2
          const end = wheel.side === 'L' ? axle?.left_kg : wheel.side === 'R' ? axle?.right_kg : axle?.total_kg
          const weighed = end === null || end === undefined ? undefined : across === 4 ? end / 2 : end
          const load = weighed ?? axle?.per_tire_kg
          drawn[wheel.code] = {
            ...BLANK_WHEEL,
            words:
              load === null || load === undefined
                ? axle?.lifted
                  ? 'up'
                  : wheel.axle
                    ? 'unknown'
                    : 'no load'
                : weighed === undefined
                  ? 'assumed'
                  : unitOf('mass'),
            ...(load === null || load === undefined ? {} : { text: figure('mass', load).replace(',', '') }),
          }
        }
      }
      states.value = drawn
      caption.value = typed.value
        ? 'load on each tire, as typed'
        : loads.value
          ? 'load on each tire'
          : 'not weighed yet'
    },
    { immediate: true },
  )
}

/** What the frame around a rig gives to the stage in it. */
import { inject, provide, ref, shallowRef, type InjectionKey, type Ref } from 'vue'
import type { WheelState } from '@/shared/scale'
import type { Sheet } from './queries'

interface RigFrame {
  id: Ref<number>
  sheet: Ref<Sheet>
  /** The wheel picked on the plan, or by the stage. */
  picked: Ref<string | null>
  /** A tire that was dragged from one wheel of the plan to another. */
  carried: Ref<{ from: string; to: string } | null>
  /** What the stage draws into the wheels in place of the last round. */
  states: Ref<Record<string, WheelState> | null>
  /** Wheels that stand on the scale, drawn on the plan. */
  standing: Ref<string[]>
  /** The whole combination on the plan, or this rig alone. */
  whole: Ref<boolean>
  /** A line over the plan. */
  caption: Ref<string>
}
const KEY: InjectionKey<RigFrame> = Symbol('rig frame')

export function provideFrame(id: Ref<number>, sheet: Ref<Sheet>): RigFrame {
  const frame: RigFrame = {
    id,
    sheet,
    picked: ref(null),
    carried: shallowRef(null),
    states: shallowRef(null),
    standing: ref([]),
    whole: ref(false),
    caption: ref(''),
  }
  provide(KEY, frame)
  return frame
}

export function useFrame(): RigFrame {
  const frame = inject(KEY)
  if (!frame) throw new Error('A stage stands inside the frame of a rig')
  return frame
}

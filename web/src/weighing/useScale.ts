/** A connected scale: its reading goes into a pass as if it were typed, and its ticket into a file. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import type { Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import type { Pass } from './PassGuide.vue'

interface Weighed {
  way: Schemas['LoadsIn']['way']
  with_trailers: boolean
  scale: string
  made_up: boolean
  resolution_kg: Entry
}
export const FAULTS = [
  { key: '' as const, name: 'Nothing' },
  { key: 'tare drift' as const, name: 'Not set to zero' },
  { key: 'not level' as const, name: 'Approach not level' },
  { key: 'half off' as const, name: 'Wheels half off the plate' },
]

export function useScale(form: Weighed) {
  const { id } = useFrame()
  const scales = useQuery({ queryKey: ['scales'], queryFn: () => answer(api.GET('/api/v1/scales')) })
  const fitting = computed(() => scales.data.value?.filter((s) => s.ways.includes(form.way as never)) ?? [])
  const connected = ref('')
  const fault = ref<Schemas['ScaleIn']['fault']>('')
  const remark = ref('')
  const scaleChoices = computed(() => [
    { key: '', name: 'None: I type the readings' },
    ...fitting.value.map((s) => ({ key: s.key, name: s.name })),
  ])
  watch([connected, fitting], () => {
    const scale = fitting.value.find((s) => s.key === connected.value)
    if (!scale) {
      connected.value = ''
      return
    }
    form.scale = scale.name
    form.made_up = scale.simulated
    form.resolution_kg = scale.resolution_kg
  })
  async function ask(pass: Pass) {
    remark.value = ''
    try {
      const shown = await answer(
        api.POST('/api/v1/work/weighing/scale', {
          body: {
            rig: id.value,
            scale: connected.value,
            with_trailers: form.with_trailers,
            on: pass.on,
            apart: pass.apart,
            fault: fault.value,
          },
        }),
      )
      pass.kg = shown.kg
      remark.value = shown.steady ? shown.remark : `Not steady: ${shown.remark}`
    } catch (error) {
      remark.value = refusedOf(error).message
    }
  }
  const issue = useSave(async (kind: 'json' | 'csv') => {
    const ticket = await answer(
      api.POST('/api/v1/work/weighing/scale-ticket', {
        body: {
          rig: id.value,
          scale: connected.value,
          way: form.way as Schemas['GuideIn']['way'],
          with_trailers: form.with_trailers,
          fault: fault.value,
        },
      }),
    )
    const file = new Blob([kind === 'json' ? ticket.json_text : ticket.csv_text], { type: 'text/plain' })
    const link = document.createElement('a')
    link.href = URL.createObjectURL(file)
    link.download = `scale-ticket.${kind}`
    link.click()
    URL.revokeObjectURL(link.href)
  })
  return reactive({
    known: computed(() => Boolean(scales.data.value?.length)),
    choices: scaleChoices,
    connected,
    fault,
    remark,
    ask,
    issue: issue.save,
    message: issue.message,
  })
}
export type Scale = ReturnType<typeof useScale>

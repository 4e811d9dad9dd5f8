/** The round aloud: the verdict or the refusal to its end, then the next wheel. */
import { watch } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { say } from '@/shared/units'
import { useVoice } from '@/shared/voice'
import type { OpenRound } from './useRound'

export function useSpeech(here: OpenRound) {
  const { aloud, canSpeak, utter } = useVoice()
  watch([() => here.wheel?.code, aloud], () => here.wheel && utter(here.wheel.name, false))
  return {
    aloud,
    canSpeak,
    speak: (said: Pick<Schemas['AnswerOut'], 'words'>) => utter(say(said.words), true),
    refuse: (message: string) => utter(message, true),
  }
}

/** The browser's own voice, where it has one and it is wanted. */
import { ref, watch } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { say } from '@/shared/units'
import type { OpenRound } from './useRound'

export function useSpeech(here: OpenRound) {
  const aloud = ref(false)
  const canSpeak = 'speechSynthesis' in window
  function utter(words: string) {
    if (!aloud.value || !canSpeak) return
    window.speechSynthesis.cancel()
    window.speechSynthesis.speak(new SpeechSynthesisUtterance(words))
  }
  watch([() => here.wheel?.code, aloud], () => here.wheel && utter(here.wheel.name))
  return { aloud, canSpeak, speak: (said: Pick<Schemas['AnswerOut'], 'words'>) => utter(say(said.words)) }
}

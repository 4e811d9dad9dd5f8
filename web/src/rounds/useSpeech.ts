/** The browser's own voice, where it has one and it is wanted: the verdict or the refusal to its end, then the next wheel. */
import { ref, watch } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { say } from '@/shared/units'
import type { OpenRound } from './useRound'

export function useSpeech(here: OpenRound) {
  const aloud = ref(false)
  const canSpeak = 'speechSynthesis' in window
  /** Whether what is being said is an answer, which is not cut off. */
  let answering = false

  function utter(words: string, isAnswer: boolean) {
    if (!aloud.value || !canSpeak || !words) return
    // An answer cuts off the one before; the name of a wheel waits for it, and gives way to the next name.
    if (isAnswer || !answering) window.speechSynthesis.cancel()
    const said = new SpeechSynthesisUtterance(words)
    if (isAnswer) {
      answering = true
      said.onend = said.onerror = () => (answering = false)
    }
    window.speechSynthesis.speak(said)
  }
  watch([() => here.wheel?.code, aloud], () => here.wheel && utter(here.wheel.name, false))
  return {
    aloud,
    canSpeak,
    speak: (said: Pick<Schemas['AnswerOut'], 'words'>) => utter(say(said.words), true),
    refuse: (message: string) => utter(message, true),
  }
}

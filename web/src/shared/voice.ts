/** The browser's own voice, where it has one and it is wanted: what matters is said to its end, a name waits for it. */
import { ref } from 'vue'

export function useVoice() {
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
  return { aloud, canSpeak, utter }
}

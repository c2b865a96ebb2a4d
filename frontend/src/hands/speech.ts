/** What the product says aloud, by a voice of the device's own. */

export function hasVoice(): boolean {
  return 'speechSynthesis' in window && window.speechSynthesis.getVoices().length > 0
}

/** Say something after what is being said. */
export function speak(text: string, onSaid: () => void) {
  const spoken = new SpeechSynthesisUtterance(text)
  spoken.lang = 'en'
  spoken.onend = onSaid
  window.speechSynthesis.speak(spoken)
}

/** Say no more of what was to be said. */
export function beSilent() {
  if ('speechSynthesis' in window) window.speechSynthesis.cancel()
}

/** The card said aloud, where the browser can speak; off until it is asked for. Kept on this device. */
import { ref } from 'vue'

const KEPT = 'yeasty-voice'
export const canSpeak = 'speechSynthesis' in window
export const voiceOn = ref(canSpeak && localStorage.getItem(KEPT) === 'on')

export function say(words: string): void {
  if (!canSpeak || !words) return
  window.speechSynthesis.cancel()
  const said = new SpeechSynthesisUtterance(words)
  said.lang = 'en-GB'
  said.rate = 0.95
  window.speechSynthesis.speak(said)
}
export function toggleVoice(): void {
  voiceOn.value = canSpeak && !voiceOn.value
  localStorage.setItem(KEPT, voiceOn.value ? 'on' : 'off')
  if (!voiceOn.value && canSpeak) window.speechSynthesis.cancel()
}

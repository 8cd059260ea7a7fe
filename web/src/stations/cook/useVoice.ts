/** The card said aloud, where the browser can speak; off until it is asked for. Kept on this device. */
import { useLocalStorage, useSpeechSynthesis } from '@vueuse/core'
import { computed, ref } from 'vue'

const kept = useLocalStorage<'on' | 'off'>('yeasty-voice', 'off', { writeDefaults: false })
const words = ref('')
const voice = useSpeechSynthesis(words, { lang: 'en-GB', rate: 0.95 })
export const canSpeak = voice.isSupported.value
export const voiceOn = computed(() => canSpeak && kept.value === 'on')

export function say(said: string): void {
  if (!canSpeak || !said) return
  words.value = said
  voice.speak()
}
export function toggleVoice(): void {
  kept.value = canSpeak && !voiceOn.value ? 'on' : 'off'
  if (!voiceOn.value && canSpeak) voice.stop()
}

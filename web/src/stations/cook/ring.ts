/**
 * Sounds by urgency, told apart with closed eyes: food in the heat, something for the hands, a timer. Silent
 * where the browser allows no sound yet.
 */
export type Sound = 'heat' | 'hands' | 'timer'
/** Tones of each sound: pitch [Hz] and how long [s]. */
const TONES: Record<Sound, [number, number][]> = {
  heat: [
    [880, 0.16],
    [1175, 0.16],
    [880, 0.16],
    [1175, 0.3],
  ],
  hands: [
    [660, 0.22],
    [880, 0.3],
  ],
  timer: [[520, 0.5]],
}
let context: AudioContext | null = null
export function ring(sound: Sound): void {
  try {
    context ??= new AudioContext()
    let at = context.currentTime
    for (const [pitch, long] of TONES[sound]) {
      const tone = context.createOscillator()
      const loud = context.createGain()
      tone.frequency.value = pitch
      tone.type = sound === 'heat' ? 'triangle' : 'sine'
      loud.gain.setValueAtTime(0.0001, at)
      loud.gain.exponentialRampToValueAtTime(0.35, at + 0.02)
      loud.gain.exponentialRampToValueAtTime(0.0001, at + long)
      tone.connect(loud).connect(context.destination)
      tone.start(at)
      tone.stop(at + long + 0.02)
      at += long + 0.05
    }
  } catch {
    context = null
  }
}

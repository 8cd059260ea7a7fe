/** A short tone: one for something to look at, two for the hands. Silent where the browser allows no sound yet. */
let context: AudioContext | null = null
export function ring(times: number): void {
  try {
    context ??= new AudioContext()
    for (let n = 0; n < times; n++) {
      const at = context.currentTime + n * 0.28
      const tone = context.createOscillator()
      const loud = context.createGain()
      tone.frequency.value = times > 1 ? 880 : 660
      loud.gain.setValueAtTime(0.0001, at)
      loud.gain.exponentialRampToValueAtTime(0.35, at + 0.02)
      loud.gain.exponentialRampToValueAtTime(0.0001, at + 0.22)
      tone.connect(loud).connect(context.destination)
      tone.start(at)
      tone.stop(at + 0.25)
    }
  } catch {
    context = null
  }
}

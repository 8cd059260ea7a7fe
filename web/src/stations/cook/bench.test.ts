// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'

const spoken: { text: string; lang: string }[] = []
let cancelled = 0
class Utterance {
  lang = ''
  rate = 1
  constructor(readonly text: string) {}
}
const press = (key: string) => ({ key }) as KeyboardEvent

beforeEach(() => {
  vi.resetModules()
  localStorage.clear()
  spoken.length = cancelled = 0
  Object.assign(window, {
    speechSynthesis: {
      speak: (u: Utterance) => spoken.push({ text: u.text, lang: u.lang }),
      cancel: () => {
        cancelled++
      },
    },
    SpeechSynthesisUtterance: Utterance,
  })
  vi.stubGlobal('SpeechSynthesisUtterance', Utterance)
})

describe('the card said aloud', () => {
  it('is off until it is asked for, and stays as it was chosen', async () => {
    const voice = await import('./useVoice')
    expect(voice.canSpeak).toBe(true)
    expect(voice.voiceOn.value).toBe(false)
    voice.toggleVoice()
    expect(voice.voiceOn.value).toBe(true)
    vi.resetModules()
    expect((await import('./useVoice')).voiceOn.value).toBe(true)
  })
  it('cuts short what was being said, and says nothing for no words', async () => {
    const { say, toggleVoice } = await import('./useVoice')
    say('O V, Oven. Take out now.')
    say('A F, Air fryer. Shake in 2 minutes.')
    say('')
    expect(spoken.map((s) => s.text)).toEqual([
      'O V, Oven. Take out now.',
      'A F, Air fryer. Shake in 2 minutes.',
    ])
    expect(spoken[0]!.lang).toBe('en-GB')
    expect(cancelled).toBe(2)
    toggleVoice()
    toggleVoice()
    expect(cancelled).toBe(3)
  })
  it('is not offered where the browser cannot speak', async () => {
    Reflect.deleteProperty(window, 'speechSynthesis')
    const voice = await import('./useVoice')
    expect(voice.canSpeak).toBe(false)
    voice.toggleVoice()
    expect(voice.voiceOn.value).toBe(false)
    expect(() => voice.say('nothing')).not.toThrow()
  })
})

describe('keys of the bench', () => {
  it('are all different as shipped, and none chooses a batch', async () => {
    const { ACTS } = await import('./useKeys')
    const keys = Object.values(ACTS).map((a) => a.key)
    expect(new Set(keys).size).toBe(keys.length)
    expect(keys.filter((k) => /^[1-9]$/.test(k))).toEqual([])
  })
  it('can be chosen, are shown so, and are kept on this device', async () => {
    const keys = (await import('./useKeys')).useKeys()
    expect(keys.choose('done', 'Q')).toBe('')
    expect(keys.label('done')).toBe('Q')
    expect(keys.actOf(press('q'))).toBe('done')
    expect(keys.actOf(press(' '))).toBeUndefined()
    vi.resetModules()
    expect((await import('./useKeys')).useKeys().keyOf('done')).toBe('q')
    keys.asShipped()
    expect(keys.actOf(press(' '))).toBe('done')
    expect(keys.label('done')).toBe('space')
  })
  it('that cannot be had say why', async () => {
    const keys = (await import('./useKeys')).useKeys()
    expect(keys.choose('done', '3')).toContain('chooses a batch')
    expect(keys.choose('done', 'Tab')).toContain('needed to move about')
    expect(keys.choose('done', 'w')).toBe('W is “Weight”. Give that another key first.')
    expect(keys.choose('weight', 'w')).toBe('')
    expect(keys.keyOf('done')).toBe(' ')
  })
  it('survive a store that holds nonsense', async () => {
    localStorage.setItem('yeasty-keys', '{not json')
    expect((await import('./useKeys')).useKeys().keyOf('undo')).toBe('u')
  })
})

describe('sounds', () => {
  const pitches: number[] = []
  const node = () => ({
    connect: (to: unknown) => to,
    start: () => undefined,
    stop: () => undefined,
    type: '',
    frequency: {
      set value(v: number) {
        pitches.push(v)
      },
    },
    gain: { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined },
  })
  it('differ by urgency', async () => {
    vi.stubGlobal(
      'AudioContext',
      class {
        currentTime = 0
        destination = {}
        createOscillator = node
        createGain = node
      },
    )
    const { ring } = await import('./ring')
    const heard = (['heat', 'hands', 'timer'] as const).map((s) => {
      pitches.length = 0
      ring(s)
      return pitches.join()
    })
    expect(new Set(heard).size).toBe(3)
  })
  it('are silent, not an error, where the browser allows none', async () => {
    vi.stubGlobal(
      'AudioContext',
      class {
        constructor() {
          throw new Error('not allowed')
        }
      },
    )
    const { ring } = await import('./ring')
    expect(() => ring('heat')).not.toThrow()
  })
})

// A short tone that a weight was booked, a low one that it was not.
import { sound } from '../shell/preferences'

let audio: AudioContext | undefined

export function tone(kind: 'booked' | 'refused'): void {
  if (sound.value === 'off') return
  try {
    audio ??= new AudioContext()
    const o = audio.createOscillator()
    const g = audio.createGain()
    o.frequency.value = kind === 'booked' ? 880 : 220
    g.gain.setValueAtTime(0.15, audio.currentTime)
    g.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.18)
    o.connect(g).connect(audio.destination)
    o.start()
    o.stop(audio.currentTime + 0.2)
  } catch {
    /* a machine without sound stays silent */
  }
}

/** A short sound and a shake: one for done, another for stopped. Gloves and noise: both are given. */
export function signal(kind: 'done' | 'stop'): void {
  navigator.vibrate?.(kind === 'done' ? 60 : [120, 60, 120])
  try {
    const context = new AudioContext()
    const tone = context.createOscillator()
    tone.frequency.value = kind === 'done' ? 880 : 220
    tone.connect(context.destination)
    tone.start()
    tone.stop(context.currentTime + (kind === 'done' ? 0.08 : 0.3))
    tone.onended = () => void context.close()
  } catch {
    // without sound there is still the shake, and the words
  }
}

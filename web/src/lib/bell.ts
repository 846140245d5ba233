const KEY = 'oakenjug.bell';

let context: AudioContext | null = null;

/** A browser lets a page sound only after somebody has touched it: called at the first press. */
export function wakeBell() {
  if (typeof AudioContext === 'undefined') return;
  context ??= new AudioContext();
  if (context.state === 'suspended') void context.resume();
}

/** Two short tones, made here; and a tablet that can shakes. */
export function strikeBell() {
  // Before anybody touched the page a browser refuses, and complains.
  if (navigator.userActivation?.hasBeenActive ?? true) navigator.vibrate?.([220, 120, 220]);
  if (context?.state !== 'running') return;
  const begin = context.currentTime;
  for (const [at, pitch] of [
    [0, 880],
    [0.32, 660],
  ] as const) {
    const tone = context.createOscillator();
    const loud = context.createGain();
    tone.frequency.value = pitch;
    loud.gain.setValueAtTime(0.0001, begin + at);
    loud.gain.exponentialRampToValueAtTime(0.4, begin + at + 0.02);
    loud.gain.exponentialRampToValueAtTime(0.0001, begin + at + 0.3);
    tone.connect(loud).connect(context.destination);
    tone.start(begin + at);
    tone.stop(begin + at + 0.31);
  }
}

/** Whether this tablet rings; kept on the tablet. */
export function bellIsOn(): boolean {
  try {
    return window.localStorage.getItem(KEY) !== 'off';
  } catch {
    return true;
  }
}

export function setBell(on: boolean) {
  try {
    window.localStorage.setItem(KEY, on ? 'on' : 'off');
  } catch {
    // Without storage it rings again at the next visit.
  }
}

/** The one sound device of this page. It starts suspended until the participant has pressed something. */
let device: AudioContext | null = null;
const decoded = new Map<string, Promise<AudioBuffer>>();

export function audio(): AudioContext {
  device ??= new AudioContext({ latencyHint: "interactive" });
  if (device.state === "suspended") void device.resume().catch(() => undefined);
  return device;
}

/** Latency of sound output as the browser reports it, in milliseconds; null while no sound was played. */
export const soundLatency = (): number | null =>
  device ? ((device.baseLatency || 0) + (device.outputLatency || 0)) * 1000 : null;

/** A sound file, decoded once for all trials. Rejects where this browser cannot play it. */
export function decodedSound(url: string): Promise<AudioBuffer> {
  const known = decoded.get(url);
  if (known) return known;
  const made = fetch(url)
    .then((response) => response.arrayBuffer())
    .then((bytes) => audio().decodeAudioData(bytes));
  decoded.set(url, made);
  made.catch(() => decoded.delete(url));
  return made;
}

/**
 * When to start a sound on the audio clock so that it is heard at a moment of the page's clock, and when it will be heard:
 * at that moment, or as soon as the device can where that is past. The browser says which sample leaves the device when;
 * where it does not, the latency it reports stands in. Times of the page in ms, of the audio clock in s.
 */
export function audioTime(device: AudioContext, wanted: number): { when: number; heard: number } {
  const { contextTime = 0, performanceTime = 0 } = device.getOutputTimestamp();
  const known =
    performanceTime > 0
      ? { context: contextTime, page: performanceTime }
      : { context: device.currentTime, page: performance.now() + (soundLatency() ?? 0) };
  const when = Math.max(device.currentTime, known.context + (wanted - known.page) / 1000);
  return { when, heard: known.page + (when - known.context) * 1000 };
}

/** Plays so many short tones, one after the other; settled after the last. */
export async function playTones(count: number): Promise<void> {
  const context = audio();
  const start = context.currentTime + 0.1;
  for (let tone = 0; tone < count; tone++) {
    const source = new OscillatorNode(context, { frequency: 520 });
    const gain = new GainNode(context, { gain: 0 });
    const [from, to] = [start + tone * 0.55, start + tone * 0.55 + 0.25];
    gain.gain.setValueAtTime(0, from);
    gain.gain.linearRampToValueAtTime(0.4, from + 0.02);
    gain.gain.setValueAtTime(0.4, to - 0.02);
    gain.gain.linearRampToValueAtTime(0, to);
    source.connect(gain).connect(context.destination);
    source.start(from);
    source.stop(to);
  }
  await new Promise((resolve) => setTimeout(resolve, 300 + count * 550));
}

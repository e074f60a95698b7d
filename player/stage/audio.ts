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

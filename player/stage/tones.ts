import { audio } from "./audio";

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

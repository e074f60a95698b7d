import { streamFor } from "~/core/random/stream";
import type { SoundItem } from "~/core/items/sound/sound";
import { speed } from "../../pace";
import { audio, decodedSound } from "../audio";
import { audioTime } from "../audio-time";
import type { Drawing } from "../context";
import { numberOr, textOr, thousandth, type ItemDrawer } from "../item-drawer";

/** A device that was taken away in the middle of a sound never says that it ended; a scene waits so much longer for it, in ms. */
const patience = 2000;

/** Heard, not seen: its element takes no room. */
export const drawer: ItemDrawer<SoundItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item sound";
    return element;
  },
  update: () => undefined,
  live: async (_, item, drawing, tell, frameMs) => {
    const { context } = drawing;
    const device = audio();
    const buffer = await samples(item, drawing, device).catch(() => null);
    if (!buffer) return { begin: () => undefined, end: () => undefined, isOver: () => true };
    const gain = new GainNode(device, { gain: numberOr(item.volume, context, 100) / 100 });
    const pan = new StereoPannerNode(device, { pan: numberOr(item.balance, context, 0) / 100 });
    const { offset, seconds } = excerpt(item, buffer);
    const source = new AudioBufferSourceNode(device, {
      buffer,
      loop: item.loop,
      loopStart: offset,
      loopEnd: offset + seconds,
      playbackRate: speed(),
    });
    source.connect(gain).connect(pan).connect(device.destination);
    let isOver = item.loop;
    let heard: number | null = null;
    let pausedAt: number | null = null;
    let pausedFor = 0;
    source.onended = () => {
      // Browsers may say it twice.
      source.onended = null;
      tell.observed("ended", performance.now());
      isOver = true;
    };
    // What a frame draws is on the display one refresh after its stamp; there the sound belongs.
    const schedule = (stamp: number) => {
      if (heard !== null) return;
      const time = audioTime(device, stamp + frameMs);
      heard = time.heard;
      if (item.loop) source.start(time.when, offset);
      else source.start(time.when, offset, seconds);
    };
    return {
      ahead: schedule,
      begin: (stamp) => {
        schedule(stamp);
        const at = heard ?? stamp;
        tell.observed("began", at, { offset: thousandth(at - stamp - frameMs) });
      },
      control: (act, volume) => {
        if (act === "volume") gain.gain.value = Math.max(0, volume ?? 100) / 100;
        else if (act === "stop") {
          if (heard !== null) source.stop();
        } else if (act === "pause") {
          pausedAt ??= performance.now();
          source.playbackRate.value = 0;
        } else {
          pausedFor += pausedAt === null ? 0 : performance.now() - pausedAt;
          pausedAt = null;
          source.playbackRate.value = speed();
        }
      },
      end: () => {
        source.onended = null;
        if (heard !== null) source.stop();
      },
      isOver: () =>
        isOver ||
        (heard !== null &&
          pausedAt === null &&
          !item.loop &&
          performance.now() > heard + (seconds * 1000) / speed() + pausedFor + patience),
    };
  },
};

function excerpt({ source }: SoundItem, { duration }: AudioBuffer): { offset: number; seconds: number } {
  if (source.from !== "file") return { offset: 0, seconds: duration };
  const offset = Math.min(duration, source.startMs / 1000);
  return { offset, seconds: Math.max(0, Math.min(duration, (source.stopMs ?? Infinity) / 1000) - offset) };
}

/** The samples to play: of the file, or of the tone or noise with its ramps, a raised cosine at both ends. */
async function samples(item: SoundItem, { context, mediaUrl }: Drawing, device: AudioContext): Promise<AudioBuffer> {
  const { source } = item;
  if (source.from === "file") {
    const url = mediaUrl(textOr(source.file, context, ""));
    if (!url) throw new Error("The sound is missing");
    return decodedSound(url);
  }
  const rate = device.sampleRate;
  const count = Math.max(1, Math.round((numberOr(source.ms, context, 200) / 1000) * rate));
  const buffer = device.createBuffer(1, count, rate);
  const data = buffer.getChannelData(0);
  if (source.from === "tone") {
    const step = (2 * Math.PI * numberOr(source.hertz, context, 440)) / rate;
    for (let index = 0; index < count; index++) data[index] = Math.sin(step * index);
  } else {
    const stream = streamFor("noise", item.id);
    for (let index = 0; index < count; index++) data[index] = 2 * stream.unit() - 1;
  }
  const ramp = Math.min(Math.floor(count / 2), Math.round((source.rampMs / 1000) * rate));
  for (let index = 0; index < ramp; index++) {
    const share = (1 - Math.cos((Math.PI * index) / ramp)) / 2;
    data[index] = (data[index] ?? 0) * share;
    data[count - 1 - index] = (data[count - 1 - index] ?? 0) * share;
  }
  return buffer;
}

import { unpackSamples, type SampleColumns } from "../gaze/packed";
import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, readableName, text, whole, yesNo } from "../shape/plain";
import { nullable, optional, type Of } from "../shape/shape";

/** What both sides say they speak; another number is refused with words. */
export const bridgeProtocol = 1;
/** Where a bridge listens unless it is told otherwise. */
export const bridgePort = 7711;
/** Longer messages are not read. */
export const longestMessage = 100_000;

const host = text({
  most: 253,
  missing: "is missing: type a name or a number such as 192.168.0.7",
  pattern: /^[\w.:-]+$/,
  otherwise: "must be a name or a number such as 192.168.0.7, without http:// and port",
});
const port = whole(1, 65_535);
const path = text({ most: 400, missing: "is missing: type its path" });

/** How markers go out on a line, whatever carries it. */
const asMarkers = {
  /** After so many milliseconds the line returns to zero; 0: a value stands until the next. */
  pulseMs: number({ least: 0, most: 1000 }),
  /** Whether the device sends each value back, so that its arrival is known. */
  answers: yesNo,
};
/** The ways to a marker line, and what each needs to know. */
export const lineSettings = {
  serial: object({
    kind: only("serial"),
    path,
    baud: whole(50, 4_000_000),
    ...asMarkers,
  }),
  tcp: object({ kind: only("tcp"), host, port, ...asMarkers }),
  udp: object({ kind: only("udp"), host, port, ...asMarkers }),
  pipe: object({ kind: only("pipe"), path, ...asMarkers }),
  /** On the laboratory computer: a line each marker, with the bridge's time. */
  file: object({ kind: only("file"), path, ...asMarkers }),
};
export type LineSettings = Of<(typeof lineSettings)[keyof typeof lineSettings]>;
export type DeviceWay = LineSettings["kind"];

/** The adapters of eye trackers: how the program of one is spoken to. */
export const trackerAdapters = ["lines"] as const;
export const settingsOfDevice = variant("kind", {
  ...lineSettings,
  tracker: object({ kind: only("tracker"), adapter: oneOf(...trackerAdapters), host, port }),
});
export type DeviceSettings = Of<typeof settingsOfDevice>;
export type TrackerSettings = Exclude<DeviceSettings, LineSettings>;
export const isTracker = (settings: DeviceSettings): settings is TrackerSettings => settings.kind === "tracker";

const id = text({ pattern: /^[\w-]{1,40}$/, otherwise: "must be an id" });
const name = readableName(60);
export const bridgeDevice = object({ id, name, settings: settingsOfDevice });
export type BridgeDevice = Of<typeof bridgeDevice>;

/** What a marker carries: a byte, 1 to 255, or a text. */
export const markerValue = text({
  most: 60,
  missing: "is missing: write a number from 1 to 255, or a text",
});

/**
 * Something to look at, from −0.5 to 0.5 of the display, to the right and downwards, and how likely it is looked at next: for
 * trackers that draw it for the assistant, or that simulate a viewer.
 */
const target = object({
  x: number({ least: -5, most: 5 }),
  y: number({ least: -5, most: 5 }),
  chance: number({ least: 0, most: 1e6 }),
});
export type LookTarget = Of<typeof target>;

const time = number();
const messageNumber = whole(0, 1e9);
const questions = {
  /** The first thing that is said: what is spoken, and the secret of an installation that was paired. */
  hello: object({ ask: only("hello"), protocol: number(), secret: optional(text({ most: 100 })) }),
  pair: object({ ask: only("pair"), code: text({ most: 20 }) }),
  clock: object({ ask: only("clock"), number: messageNumber }),
  devices: object({ ask: only("devices") }),
  keep: object({ ask: only("keep"), device: bridgeDevice }),
  remove: object({ ask: only("remove"), id }),
  test: object({ ask: only("test"), id, messages: whole(1, 1000) }),
  /** Devices are opened, and opened again when they are lost, until `stop`. */
  start: object({
    ask: only("start"),
    session: text({ most: 60 }),
    /** Gaze is recorded, too; pieces of it up to `have` are safe elsewhere. */
    gaze: optional(
      object({ session: text({ pattern: /^[\w-]{1,60}$/, otherwise: "must be an id" }), have: messageNumber }),
    ),
  }),
  stop: object({ ask: only("stop") }),
  look: object({ ask: only("look"), targets: list(target, 1, 40) }),
  mark: object({ ask: only("mark"), number: messageNumber, value: markerValue }),
};
/** What a browser says to a bridge. */
export const bridgeQuestion = variant("ask", questions);
export type BridgeQuestion = Of<typeof bridgeQuestion>;

const deviceState = oneOf("closed", "ready", "lost");
const listed = object({
  device: bridgeDevice,
  state: deviceState,
  /** Why it was lost, in words. */
  says: optional(text({ most: 500 })),
});
export type ListedDevice = Of<typeof listed>;
export const deviceTest = object({
  id,
  sent: whole(0, 1000),
  answered: whole(0, 1000),
  /** Of round trips, in milliseconds; null where nothing was answered. */
  median: nullable(number({ least: 0 })),
  worst: nullable(number({ least: 0 })),
  /** Of a tracker: samples a second, and the share of them in which an eye was seen. */
  rate: optional(number({ least: 0 })),
  seen: optional(number({ least: 0, most: 1 })),
  /** What is wrong, and what to do; null where nothing is. */
  problem: nullable(text({ most: 500 })),
});
export type DeviceTest = Of<typeof deviceTest>;
const marked = object({
  device: id,
  /** When it was handed to the device, and when the device had sent it back, by the bridge's clock. */
  sent: nullable(time),
  confirmed: nullable(time),
});

const answers = {
  hello: object({
    say: only("hello"),
    protocol: number(),
    name,
    isPaired: yesNo,
    /** The ways it can reach devices here. */
    ways: list(oneOf(...(Object.keys(lineSettings) as DeviceWay[])), 0, 20),
    serialPorts: list(text({ most: 400 }), 0, 100),
  }),
  paired: object({ say: only("paired"), secret: text({ most: 100 }) }),
  clock: object({ say: only("clock"), number: messageNumber, at: time }),
  devices: object({ say: only("devices"), devices: list(listed, 0, 40) }),
  /** A device was added, changed or removed. */
  kept: object({ say: only("kept"), id }),
  tested: object({ say: only("tested"), test: deviceTest }),
  marked: object({ say: only("marked"), number: messageNumber, on: list(marked, 0, 40) }),
  started: object({ say: only("started") }),
  stopped: object({ say: only("stopped") }),
  refused: object({
    say: only("refused"),
    why: oneOf("protocol", "code", "not-paired", "message", "too-many"),
    says: text({ most: 500 }),
  }),
};
/** What a bridge says to a browser. */
export const bridgeAnswer = variant("say", answers);
export type BridgeAnswer = Of<typeof bridgeAnswer>;
export type BridgeAnswerOf<K extends BridgeAnswer["say"]> = Extract<BridgeAnswer, { say: K }>;

/**
 * A piece of gaze, as a bridge sends it in binary: its number among those of the session as four bytes, little-endian, then the
 * samples as `core/gaze/packed.ts` packs them, with times of the bridge’s clock.
 */
export function pieceMessage(number: number, samples: Uint8Array): Uint8Array<ArrayBuffer> {
  const message = new Uint8Array(4 + samples.length);
  new DataView(message.buffer).setUint32(0, number, true);
  message.set(samples, 4);
  return message;
}
/** Such a message taken apart; null where it is none. */
export function pieceIn(message: Uint8Array): { number: number; samples: SampleColumns } | null {
  if (message.length < 4) return null;
  const samples = unpackSamples(message.subarray(4));
  const number = new DataView(message.buffer, message.byteOffset).getUint32(0, true);
  return samples && { number, samples };
}

/** The bytes of a marker: a number from 1 to 255 as one byte, any other text with a line's end. */
export function markerBytes(value: string): Uint8Array {
  if (/^\d{1,3}$/.test(value) && Number(value) >= 1 && Number(value) <= 255) return Uint8Array.of(Number(value));
  return new TextEncoder().encode(`${value}\n`);
}

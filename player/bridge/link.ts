import type { Exchange } from "~/core/bridge/clock";
import {
  bridgeAnswer,
  bridgeProtocol,
  pieceIn,
  type BridgeAnswer,
  type BridgeAnswerOf,
  type BridgeDevice,
  type BridgeQuestion,
  type DeviceTest,
  type ListedDevice,
  type LookTarget,
} from "~/core/bridge/messages";
import type { SampleColumns } from "~/core/gaze/packed";
import { hasShape } from "~/core/shape/shape";

/** A refusal of the bridge, in its words; or that it is away. */
export class BridgeSays extends Error {
  constructor(
    message: string,
    readonly isRefusal: boolean,
  ) {
    super(message);
  }
}
const away = () => new BridgeSays("The bridge is away.", false);

type Socket = Pick<WebSocket, "send" | "close" | "readyState"> & {
  onopen: unknown;
  onclose: unknown;
  onerror: unknown;
  onmessage: unknown;
  binaryType: unknown;
};
/** How a socket is made: the browser's own, or another in tests. */
export type MakeSocket = (address: string) => Socket;
const ofBrowser: MakeSocket = (address) => new WebSocket(address);

/** A bridge says hello within so many milliseconds. */
const helloMs = 2000;
type Hello = BridgeAnswerOf<"hello">;
type Waiting = { resolve: (answer: BridgeAnswer) => void; reject: (why: BridgeSays) => void };

/** What an answer is waited for as. */
const keyOf = (said: BridgeAnswer): string =>
  said.say === "clock" || said.say === "marked"
    ? `${said.say} ${said.number}`
    : said.say === "tested"
      ? `tested ${said.test.id}`
      : said.say === "kept"
        ? `kept ${said.id}`
        : said.say;

/** A connection to the bridge of this computer. */
export class BridgeLink {
  hello: Hello | null = null;
  devices: readonly ListedDevice[] = [];
  /** Told when the devices stand otherwise, or the connection is over. */
  onChange: () => void = () => undefined;
  /** Told of each piece of gaze: its number in the session, and its samples at times of the bridge’s clock. */
  onGaze: (number: number, samples: SampleColumns) => void = () => undefined;
  #waiting = new Map<string, Waiting>();
  #clocks = 0;

  private constructor(private readonly socket: Socket) {
    socket.binaryType = "arraybuffer";
    socket.onmessage = ({ data }: { data: unknown }) => this.#take(data);
    socket.onclose = () => {
      for (const { reject } of this.#waiting.values()) reject(away());
      this.#waiting.clear();
      this.onChange();
    };
  }

  /** Reaches the bridge at a port of this computer and says hello. Rejects with `BridgeSays`. */
  static async reach(port: number, secret: string | null, make: MakeSocket = ofBrowser): Promise<BridgeLink> {
    const socket = make(`ws://127.0.0.1:${port}`);
    await new Promise<void>((resolve, reject) => {
      socket.onopen = () => resolve();
      socket.onerror = () => reject(away());
    });
    socket.onerror = null;
    const link = new BridgeLink(socket);
    const told = link.#ask({ ask: "hello", protocol: bridgeProtocol, ...(secret === null ? {} : { secret }) }, "hello");
    let patience: ReturnType<typeof setTimeout> | undefined;
    const silent = new Promise<never>((_, reject) => {
      patience = setTimeout(
        () => reject(new BridgeSays("Something else than a bridge answers at this port.", true)),
        helloMs,
      );
    });
    try {
      link.hello = (await Promise.race([told, silent])) as Hello;
      return link;
    } catch (error) {
      link.close();
      throw error;
    } finally {
      clearTimeout(patience);
    }
  }

  get isOpen(): boolean {
    return this.socket.readyState === 1;
  }
  close(): void {
    this.socket.close();
  }

  /** Pairs the installation this page comes from; gives the secret by which it is known from now on. */
  async pair(code: string): Promise<string> {
    const { secret } = (await this.#ask({ ask: "pair", code }, "paired")) as BridgeAnswerOf<"paired">;
    if (this.hello) this.hello = { ...this.hello, isPaired: true };
    return secret;
  }
  keep(device: BridgeDevice): Promise<unknown> {
    return this.#ask({ ask: "keep", device }, `kept ${device.id}`);
  }
  remove(id: string): Promise<unknown> {
    return this.#ask({ ask: "remove", id }, `kept ${id}`);
  }
  async test(id: string, messages: number): Promise<DeviceTest> {
    return ((await this.#ask({ ask: "test", id, messages }, `tested ${id}`)) as BridgeAnswerOf<"tested">).test;
  }
  /** With `gaze` samples are recorded, too, and sent from the piece after `have` on. */
  start(session: string, gaze?: { session: string; have: number }): Promise<unknown> {
    return this.#ask({ ask: "start", session, ...(gaze ? { gaze } : {}) }, "started");
  }
  /** Tells trackers what there is to look at from now on. */
  look(targets: LookTarget[]): void {
    if (this.isOpen) this.socket.send(JSON.stringify({ ask: "look", targets } satisfies BridgeQuestion));
  }
  stop(): Promise<unknown> {
    return this.#ask({ ask: "stop" }, "stopped");
  }
  /** One exchange of clocks; own times are those of `performance.now()`. */
  async exchange(): Promise<Exchange> {
    const number = ++this.#clocks;
    const sent = performance.now();
    const { at } = (await this.#ask({ ask: "clock", number }, `clock ${number}`)) as BridgeAnswerOf<"clock">;
    return { sent, there: at, received: performance.now() };
  }
  /** Sends a marker to all devices; gives when each had it, by the bridge's clock. */
  async mark(number: number, value: string): Promise<BridgeAnswerOf<"marked">["on"]> {
    return ((await this.#ask({ ask: "mark", number, value }, `marked ${number}`)) as BridgeAnswerOf<"marked">).on;
  }

  #ask(question: BridgeQuestion, key: string): Promise<BridgeAnswer> {
    if (!this.isOpen) return Promise.reject(away());
    return new Promise((resolve, reject) => {
      this.#waiting.set(key, { resolve, reject });
      this.socket.send(JSON.stringify(question));
    });
  }

  #take(data: unknown) {
    if (data instanceof ArrayBuffer) {
      const piece = pieceIn(new Uint8Array(data));
      if (piece) this.onGaze(piece.number, piece.samples);
      return;
    }
    const said = asAnswer(data);
    if (!said) return;
    if (said.say === "refused") {
      for (const { reject } of this.#waiting.values()) reject(new BridgeSays(said.says, true));
      this.#waiting.clear();
      return;
    }
    if (said.say === "devices") {
      this.devices = said.devices;
      this.onChange();
    }
    const key = keyOf(said);
    this.#waiting.get(key)?.resolve(said);
    this.#waiting.delete(key);
  }
}

function asAnswer(data: unknown): BridgeAnswer | null {
  if (typeof data !== "string") return null;
  try {
    const value: unknown = JSON.parse(data);
    return hasShape(bridgeAnswer, value) ? value : null;
  } catch {
    return null;
  }
}

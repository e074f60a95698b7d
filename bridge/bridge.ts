import { createHash, randomBytes, randomInt, timingSafeEqual } from "node:crypto";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { hostname } from "node:os";
import { WebSocketServer, type WebSocket } from "ws";
import {
  bridgeProtocol,
  bridgeQuestion,
  isTracker,
  longestMessage,
  type BridgeAnswer,
  type BridgeDevice,
  type BridgeQuestion,
} from "../core/bridge/messages";
import { hasShape } from "../core/shape/shape";
import { now } from "./clock";
import { readKept, writeKept } from "./kept";
import { waysHere } from "./lines/registry";
import { serialPorts } from "./lines/serial";
import { MarkerLine } from "./marker-line";
import { openRecording, type Recording } from "./recording";
import { TrackerFeed } from "./tracker-feed";

export type Bridge = {
  port: number;
  /** What pairs an installation just now. */
  code: () => string;
  stop: () => Promise<void>;
};

type Options = {
  port: number;
  /** Where it keeps its devices and whom it is paired with. */
  folder: string;
  /** Told in lines what happens. */
  tell?: (line: string) => void;
};

const [mostWrongCodes, mostDevices, mostBrowsers] = [5, 40, 20];
/** After too many wrong codes the next ones are not looked at for so long. */
const restMs = 30_000;

const hashOf = (secret: string) => createHash("sha256").update(secret).digest("hex");
const isSame = (a: string, b: string) => a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));
const newCode = () => String(randomInt(100_000, 1_000_000));

/**
 * Starts the bridge between the browser of this computer and its devices. It listens on 127.0.0.1 only, and does nothing for a
 * page that was not paired by the code. Rejects where the port is taken.
 */
export async function startBridge({ port, folder, tell = () => undefined }: Options): Promise<Bridge> {
  const kept = await readKept(folder);
  const reached = new Map<string, MarkerLine | TrackerFeed>();
  const open = new Set<Browser>();
  const clocks = { code: newCode(), wrong: 0, restUntil: 0 };
  const ways = await waysHere();
  let lastMark: { session: string; number: number } | null = null;

  type Browser = {
    socket: WebSocket;
    origin: string;
    isPaired: boolean;
    /** The session that is on in it, if any, and the gaze that is recorded of it. */
    session: string | null;
    recording: Recording | null;
  };
  const say = ({ socket }: Browser, answer: BridgeAnswer) => socket.send(JSON.stringify(answer));
  const refuse = (browser: Browser, why: Extract<BridgeAnswer, { say: "refused" }>["why"], says: string) =>
    say(browser, { say: "refused", why, says });
  const reach = ({ id, settings }: BridgeDevice): MarkerLine | TrackerFeed => {
    const known = reached.get(id);
    if (known) return known;
    const made = isTracker(settings) ? new TrackerFeed(settings, listToAll) : new MarkerLine(settings, listToAll);
    if (made instanceof TrackerFeed) made.onPiece = (samples) => void record(samples);
    reached.set(id, made);
    return made;
  };
  const lines = () => kept.devices.filter(({ settings }) => !isTracker(settings));
  const trackers = () => kept.devices.filter(({ settings }) => isTracker(settings));
  /** What is recorded is in the file before it is sent on, piece after piece. */
  let recording: Promise<void> = Promise.resolve();
  const record = (samples: Uint8Array) => {
    recording = recording
      .then(async () => {
        for (const browser of open)
          if (browser.recording) {
            const message = await browser.recording.add(samples);
            if (browser.socket.readyState === browser.socket.OPEN) browser.socket.send(message);
          }
      })
      .catch((error: unknown) => tell(`Gaze could not be recorded: ${String(error)}`));
    return recording;
  };
  const listed = (): BridgeAnswer => ({
    say: "devices",
    devices: kept.devices.map((device) => {
      const { state, why } = reach(device);
      return { device, state, ...(why === null ? {} : { says: why }) };
    }),
  });
  function listToAll() {
    for (const browser of open) if (browser.isPaired) say(browser, listed());
  }
  const keep = () => writeKept(folder, kept);
  const isSessionOn = () => [...open].some(({ session }) => session !== null);

  async function pair(browser: Browser, code: string) {
    if (now() < clocks.restUntil)
      return refuse(
        browser,
        "code",
        "Too many wrong codes. Wait half a minute, then type the one on the bridge’s screen.",
      );
    if (!isSame(code.replace(/\D/g, ""), clocks.code)) {
      if (++clocks.wrong >= mostWrongCodes) {
        Object.assign(clocks, { code: newCode(), wrong: 0, restUntil: now() + restMs });
        tell(`Too many wrong codes. The code is now ${inTwo(clocks.code)}.`);
      }
      return refuse(browser, "code", "This is not the code on the bridge’s screen.");
    }
    const secret = randomBytes(24).toString("base64url");
    kept.installation = { origin: browser.origin, hash: hashOf(secret) };
    Object.assign(clocks, { code: newCode(), wrong: 0 });
    await keep();
    // Whoever was paired before is not any longer.
    for (const other of open) if (other !== browser && other.origin !== browser.origin) other.isPaired = false;
    browser.isPaired = true;
    tell(`Paired with ${browser.origin}. The next code is ${inTwo(clocks.code)}.`);
    say(browser, { say: "paired", secret });
    say(browser, listed());
  }

  async function hello(browser: Browser, { protocol, secret }: Extract<BridgeQuestion, { ask: "hello" }>) {
    if (protocol !== bridgeProtocol)
      return refuse(
        browser,
        "protocol",
        `This bridge speaks version ${bridgeProtocol}, the page version ${protocol}: start the bridge that came with the installation.`,
      );
    const { installation } = kept;
    browser.isPaired =
      secret !== undefined &&
      installation !== null &&
      installation.origin === browser.origin &&
      isSame(hashOf(secret), installation.hash);
    const ports = ways.includes("serial") ? await serialPorts() : [];
    say(browser, {
      ...{ say: "hello", protocol: bridgeProtocol, name: hostname() || "this computer", ways },
      isPaired: browser.isPaired,
      serialPorts: ports.slice(0, 100),
    });
    if (browser.isPaired) say(browser, listed());
  }

  async function forget(id: string) {
    const there = reached.get(id);
    reached.delete(id);
    await there?.close();
  }

  async function answer(browser: Browser, question: BridgeQuestion): Promise<void> {
    if (question.ask === "hello") return hello(browser, question);
    if (question.ask === "pair") return pair(browser, question.code);
    if (!browser.isPaired)
      return refuse(browser, "not-paired", "This page is not paired with the bridge: type the code on its screen.");
    switch (question.ask) {
      case "clock":
        return say(browser, { say: "clock", number: question.number, at: now() });
      case "devices":
        return say(browser, listed());
      case "keep": {
        const { device } = question;
        const at = kept.devices.findIndex(({ id }) => id === device.id);
        if (at < 0 && kept.devices.length >= mostDevices)
          return refuse(browser, "too-many", `A bridge has at most ${mostDevices} devices.`);
        kept.devices = at < 0 ? [...kept.devices, device] : kept.devices.with(at, device);
        await forget(device.id);
        await keep();
        tell(`Device “${device.name}”: ${device.settings.kind}.`);
        if (isSessionOn()) await reach(device).keepOpen();
        listToAll();
        return say(browser, { say: "kept", id: device.id });
      }
      case "remove":
        kept.devices = kept.devices.filter(({ id }) => id !== question.id);
        await forget(question.id);
        await keep();
        listToAll();
        return say(browser, { say: "kept", id: question.id });
      case "test": {
        const device = kept.devices.find(({ id }) => id === question.id);
        if (!device) return listToAll();
        // What a test sends would stand among the markers of the session.
        if (isSessionOn()) {
          const problem = "A session is on, so that nothing is sent to try it. Test it afterwards.";
          const test = { id: device.id, sent: 0, answered: 0, median: null, worst: null, problem };
          return say(browser, { say: "tested", test });
        }
        return say(browser, { say: "tested", test: await reach(device).test(device.id, question.messages) });
      }
      case "start":
        browser.session = question.session;
        await Promise.all(lines().map((device) => reach(device).keepOpen()));
        if (question.gaze) await startGaze(browser, question.gaze);
        tell(`Session ${question.session} is on.`);
        return say(browser, { say: "started" });
      case "stop":
        await stopSession(browser);
        return say(browser, { say: "stopped" });
      case "look":
        for (const device of trackers()) {
          const feed = reach(device);
          if (feed instanceof TrackerFeed) feed.look(question.targets);
        }
        return;
      case "mark": {
        const { number, value } = question;
        const session = browser.session ?? "";
        // What was sent once is not sent again.
        if (lastMark?.session === session && number <= lastMark.number) return;
        lastMark = { session, number };
        const on = await Promise.all(
          lines().map(async (device) => {
            const line = reach(device);
            const sent = line instanceof MarkerLine ? await line.send(value) : { sent: null, confirmed: null };
            return { device: device.id, ...sent };
          }),
        );
        return say(browser, { say: "marked", number, on });
      }
    }
  }

  /** Opens the trackers, after all that was recorded of the session before and is not safe elsewhere was sent again. */
  async function startGaze(browser: Browser, { session, have }: { session: string; have: number }) {
    // One window has a session; what another one had of it is over.
    for (const other of open) if (other.recording) await endRecording(other);
    const opened = await openRecording(folder, session);
    for (const message of await opened.after(have)) browser.socket.send(message);
    browser.recording = opened;
    await Promise.all(trackers().map((device) => reach(device).keepOpen()));
  }

  async function endRecording(browser: Browser) {
    await recording;
    const { recording: over } = browser;
    browser.recording = null;
    await over?.close();
  }

  async function stopSession(browser: Browser) {
    if (browser.session !== null) tell(`Session ${browser.session} is over.`);
    browser.session = null;
    // What came last is handed on before the recording ends.
    if (!isSessionOn()) await Promise.all([...reached.values()].map((each) => each.close()));
    await endRecording(browser);
  }

  const server = createServer((_, response) =>
    response.writeHead(200, { "Content-Type": "text/plain; charset=utf-8" }).end("This is a bridge of Lapwing.\n"),
  );
  const sockets = new WebSocketServer({ server, maxPayload: longestMessage });
  sockets.on("connection", (socket, request) => {
    if (open.size >= mostBrowsers) return void socket.close(1013, "too many");
    const browser: Browser = {
      socket,
      origin: request.headers.origin ?? "",
      isPaired: false,
      session: null,
      recording: null,
    };
    open.add(browser);
    socket.on("error", () => undefined);
    socket.on("close", () => {
      open.delete(browser);
      void stopSession(browser);
    });
    socket.on("message", (data: Buffer, isBinary) => {
      const question = isBinary ? null : asQuestion(data.toString());
      if (!question) return refuse(browser, "message", "The bridge does not understand this message.");
      answer(browser, question).catch((error: unknown) => tell(`A message could not be answered: ${String(error)}`));
    });
  });
  await new Promise<void>((resolve, reject) => server.once("error", reject).listen(port, "127.0.0.1", resolve));
  return {
    port: (server.address() as AddressInfo).port,
    code: () => clocks.code,
    stop: async () => {
      for (const { socket } of open) socket.terminate();
      await Promise.all([...reached.values()].map((each) => each.close()));
      for (const browser of open) await endRecording(browser);
      sockets.close();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
    },
  };
}

/** A code as it is read out: in two halves. */
export const inTwo = (code: string): string => `${code.slice(0, 3)} ${code.slice(3)}`;

function asQuestion(text: string): BridgeQuestion | null {
  try {
    const value: unknown = JSON.parse(text);
    return hasShape(bridgeQuestion, value) ? value : null;
  } catch {
    return null;
  }
}

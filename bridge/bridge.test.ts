import { once } from "node:events";
import { mkdtemp, readFile, rm } from "node:fs/promises";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { WebSocket, WebSocketServer } from "ws";
import type { BridgeDevice, DeviceSettings } from "../core/bridge/messages";
import { BridgeLink, type MakeSocket } from "../player/bridge/link";
import { Amplifier, atPort, atTerminal } from "./amplifier";
import { startBridge, type Bridge } from "./bridge";

const undone: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const undo of undone.splice(0).toReversed()) await undo();
});
const lab = "http://lab.example";
const from =
  (origin: string): MakeSocket =>
  (address) =>
    new WebSocket(address, { origin }) as unknown as ReturnType<MakeSocket>;

async function folder(): Promise<string> {
  const path = await mkdtemp(join(tmpdir(), "lapwing-bridge-"));
  undone.push(() => rm(path, { recursive: true, force: true }));
  return path;
}
async function bridgeIn(at: string, port = 0): Promise<Bridge> {
  const bridge = await startBridge({ port, folder: at });
  undone.push(() => bridge.stop());
  return bridge;
}
async function paired(bridge: Bridge, origin = lab) {
  const link = await BridgeLink.reach(bridge.port, null, from(origin));
  undone.push(async () => link.close());
  const secret = await link.pair(bridge.code());
  return { link, secret };
}
async function amplifierAt(options: ConstructorParameters<typeof Amplifier>[0] = {}, port = 0) {
  const amplifier = new Amplifier(options);
  const attached = await atPort(amplifier, port);
  undone.push(() => attached.stop());
  return { amplifier, ...attached };
}
const device = (settings: DeviceSettings, id = "line"): BridgeDevice => ({ id, name: "Marker line", settings });
const tcp = (port: number, more: Partial<Extract<DeviceSettings, { kind: "tcp" }>> = {}): DeviceSettings => ({
  ...{ kind: "tcp", host: "127.0.0.1", port, pulseMs: 0, answers: true },
  ...more,
});
const until = async (isSo: () => boolean) => {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 5));
};

describe("the bridge", () => {
  it("does nothing for a page that is not paired, takes its code only, and knows the installation again", async () => {
    const at = await folder();
    const bridge = await bridgeIn(at);
    const link = await BridgeLink.reach(bridge.port, null, from(lab));
    expect(link.hello).toMatchObject({ isPaired: false });
    await expect(link.keep(device(tcp(1)))).rejects.toThrow("not paired");
    await expect(link.pair("000000")).rejects.toThrow("not the code");
    const secret = await link.pair(bridge.code());
    await link.keep(device(tcp(1)));
    expect(link.devices).toHaveLength(1);
    link.close();
    // The secret itself is not written down.
    expect(await readFile(join(at, "bridge.json"), "utf8")).not.toContain(secret);

    await bridge.stop();
    const again = await bridgeIn(at);
    const back = await BridgeLink.reach(again.port, secret, from(lab));
    expect(back.hello).toMatchObject({ isPaired: true });
    await until(() => back.devices.length === 1);
    back.close();
    // Neither a page of another installation with that secret, nor one of this installation without it.
    for (const other of [
      await BridgeLink.reach(again.port, secret, from("http://other.example")),
      await BridgeLink.reach(again.port, null, from(lab)),
    ]) {
      expect(other.hello).toMatchObject({ isPaired: false });
      await expect(other.mark(1, "5")).rejects.toThrow("not paired");
      other.close();
    }
  });

  it("is not taken for another program that listens at its port and says nothing", async () => {
    const other = new WebSocketServer({ port: 0, host: "127.0.0.1" });
    undone.push(() => new Promise((resolve) => other.close(resolve)));
    await once(other, "listening");
    const { port } = other.address() as AddressInfo;
    await expect(BridgeLink.reach(port, null, from(lab))).rejects.toThrow("Something else than a bridge");
  });

  it("changes its code and rests where codes are guessed at", async () => {
    const bridge = await bridgeIn(await folder());
    const link = await BridgeLink.reach(bridge.port, null, from(lab));
    const first = bridge.code();
    for (let guess = 0; guess < 5; guess++) await expect(link.pair("1")).rejects.toThrow("not the code");
    expect(bridge.code()).not.toBe(first);
    await expect(link.pair(bridge.code())).rejects.toThrow("Wait half a minute");
    link.close();
  });

  it("refuses what it does not understand, and another version, with words", async () => {
    const bridge = await bridgeIn(await folder());
    const said = await new Promise<string>((resolve) => {
      const socket = new WebSocket(`ws://127.0.0.1:${bridge.port}`);
      socket.on("open", () => socket.send('{"ask":"everything"}'));
      socket.on("message", (data: Buffer) => {
        resolve(data.toString());
        socket.close();
      });
    });
    expect(JSON.parse(said)).toMatchObject({ say: "refused", why: "message" });
    const other = await new Promise<string>((resolve) => {
      const socket = new WebSocket(`ws://127.0.0.1:${bridge.port}`);
      socket.on("open", () => socket.send('{"ask":"hello","protocol":9}'));
      socket.on("message", (data: Buffer) => {
        resolve(data.toString());
        socket.close();
      });
    });
    expect(JSON.parse(other)).toMatchObject({ why: "protocol", says: expect.stringContaining("version 9") as string });
  });
});

describe("a device", () => {
  it("is tested in place: messages sent, answered and lost, and how long they took", async () => {
    const { link } = await paired(await bridgeIn(await folder()));
    const { amplifier, port } = await amplifierAt();
    await link.keep(device(tcp(port)));
    const test = await link.test("line", 40);
    expect(test).toMatchObject({ sent: 40, answered: 40, problem: null });
    expect(test.median).toBeGreaterThan(0);
    expect(test.worst).toBeGreaterThanOrEqual(test.median ?? 0);
    expect(amplifier.received.map(({ value }) => Number(value))).toEqual(Array.from({ length: 40 }, (_, i) => i + 1));
  });

  it("with a wrong address says which mistake it is", async () => {
    const { link } = await paired(await bridgeIn(await folder()));
    const { port, stop } = await amplifierAt();
    await stop();
    const problem = async (settings: DeviceSettings) => {
      await link.keep(device(settings));
      const { problem: said, answered } = await link.test("line", 10);
      expect(answered).toBe(0);
      return said;
    };
    expect(await problem(tcp(port))).toContain(`nothing listens at its port ${port}`);
    expect(await problem(tcp(port, { host: "no-such-computer.invalid" }))).toContain("No computer is called");
    const web = createServer((_, response) => response.end());
    await new Promise<void>((resolve) => web.listen(0, "127.0.0.1", resolve));
    undone.push(() => new Promise((resolve) => web.close(resolve)));
    expect(await problem(tcp((web.address() as AddressInfo).port))).toContain("speaks another way: it said “HTTP/1.1");
    const { port: silent } = await amplifierAt({ answers: false });
    expect(await problem(tcp(silent))).toContain("sends nothing back");
    expect(
      await problem({ kind: "serial", path: "/dev/ttyNone9", baud: 115_200, pulseMs: 0, answers: true }),
    ).toContain("There is no serial port /dev/ttyNone9");
    expect(await problem({ kind: "pipe", path: "/tmp/no-such-pipe", pulseMs: 0, answers: true })).toContain(
      "There is no pipe",
    );
    expect(await problem({ kind: "file", path: "/tmp", pulseMs: 0, answers: false })).toContain("is a folder");
  });

  it("gets markers once each, in their order, with its pulses, and their times are told", async () => {
    const { link } = await paired(await bridgeIn(await folder()));
    const { amplifier, port } = await amplifierAt();
    await link.keep(device(tcp(port, { pulseMs: 2 })));
    await link.start("s1");
    const told = [];
    for (let number = 1; number <= 30; number++) told.push(await link.mark(number, String(100 + number)));
    expect(amplifier.received.map(({ value }) => Number(value))).toEqual(Array.from({ length: 30 }, (_, i) => 101 + i));
    expect(await link.test("line", 5)).toMatchObject({
      sent: 0,
      problem: expect.stringContaining("A session is on") as string,
    });
    for (const [{ sent, confirmed } = { sent: null, confirmed: null }] of told) {
      expect(confirmed).toBeGreaterThanOrEqual(sent ?? NaN);
    }
    await link.stop();
    expect(link.devices[0]?.state).toBe("closed");
  });

  it("that is lost and found again during a session gets what comes after, and the gap is known", async () => {
    const { link } = await paired(await bridgeIn(await folder()));
    const first = await amplifierAt();
    await link.keep(device(tcp(first.port)));
    await link.start("s1");
    expect((await link.mark(1, "1"))[0]).toMatchObject({ device: "line", confirmed: expect.any(Number) as number });
    await first.stop();
    await until(() => link.devices[0]?.state === "lost");
    expect(link.devices[0]?.says).toContain("closed the connection");
    expect(await link.mark(2, "2")).toEqual([{ device: "line", sent: null, confirmed: null }]);
    const second = await amplifierAt({}, first.port);
    await until(() => link.devices[0]?.state === "ready");
    expect((await link.mark(3, "3"))[0]?.confirmed).not.toBeNull();
    expect(second.amplifier.received.map(({ value }) => value)).toEqual(["3"]);
  });

  it("at a serial port is really driven", async () => {
    const { link } = await paired(await bridgeIn(await folder()));
    const amplifier = new Amplifier();
    const terminal = await atTerminal(amplifier);
    undone.push(() => terminal.stop());
    await link.keep(device({ kind: "serial", path: terminal.path, baud: 115_200, pulseMs: 0, answers: true }));
    expect(await link.test("line", 20)).toMatchObject({ sent: 20, answered: 20, problem: null });
    expect(amplifier.received.map(({ value }) => value)).toEqual(Array.from({ length: 20 }, (_, i) => String(i + 1)));
  });

  it("may be a file, with a line for each marker", async () => {
    const at = await folder();
    const { link } = await paired(await bridgeIn(at));
    const path = join(at, "markers.txt");
    await link.keep(device({ kind: "file", path, pulseMs: 5, answers: false }));
    await link.start("s1");
    await link.mark(1, "17");
    await link.mark(2, "boat comes");
    await link.stop();
    const lines = (await readFile(path, "utf8")).trim().split("\n");
    expect(lines.map((line) => line.split("\t")[1])).toEqual(["17", "boat comes"]);
  });
});

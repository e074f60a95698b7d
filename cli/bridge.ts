import { homedir } from "node:os";
import { join, resolve } from "node:path";
import { Amplifier, atPort, atTerminal } from "../bridge/amplifier";
import { inTwo, startBridge } from "../bridge/bridge";
import { simulatedTracker, type SimulatedTrackerOptions } from "../bridge/simulated-tracker";
import { Plain } from "./arguments";

const forever = () => new Promise<number>(() => undefined);

/** Runs the bridge until it is stopped. */
export async function runBridge(port: number, folder?: string): Promise<number> {
  const bridge = await startBridge({
    port,
    folder: folder === undefined ? join(homedir(), ".lapwing-bridge") : resolve(folder),
    tell: (line) => console.log(line),
  }).catch(() => {
    throw new Plain(`Port ${port} is taken: another bridge may run already. Choose another with --port.`);
  });
  console.log(`The bridge listens at 127.0.0.1:${bridge.port}, to this computer only, until you press Ctrl C.`);
  console.log(`Code for pairing: ${inTwo(bridge.code())}`);
  return forever();
}

/** Runs a stand-in for an amplifier until it is stopped: at a port, or at a serial port of its own. */
export async function runAmplifier(port: number | null, isSilent: boolean): Promise<number> {
  const amplifier = new Amplifier({ answers: !isSilent, tell: (line) => console.log(line) });
  if (port === null) {
    const { path } = await atTerminal(amplifier).catch(() => {
      throw new Plain("A serial port of its own needs Linux and the program script (util-linux).");
    });
    console.log(`The amplifier stands at the serial port ${path} until you press Ctrl C.`);
  } else {
    await atPort(amplifier, port).catch(() => {
      throw new Plain(`Port ${port} is taken. Choose another with --port.`);
    });
    console.log(`The amplifier listens at 127.0.0.1:${port} until you press Ctrl C.`);
  }
  return forever();
}

/** Runs a stand-in for an eye tracker until it is stopped. */
export async function runTracker(port: number, options: SimulatedTrackerOptions): Promise<number> {
  await simulatedTracker(port, options).catch(() => {
    throw new Plain(`Port ${port} is taken. Choose another with --port.`);
  });
  console.log(`The eye tracker listens at 127.0.0.1:${port} until you press Ctrl C.`);
  return forever();
}

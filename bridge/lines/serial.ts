import { readdir } from "node:fs/promises";
import type { SerialPort } from "serialport";
import { NoLine, saidOf, type LineKind } from "./line";

/** The package that reaches serial ports; null on computers for which it brings no build. */
const serialPackage = () => import("serialport").catch(() => null);

/** Whether serial ports can be reached from here. */
export const hasSerial = async (): Promise<boolean> => (await serialPackage()) !== null;

/** The serial ports of this computer, by their paths. */
export async function serialPorts(): Promise<string[]> {
  const found = await serialPackage()
    .then((loaded) => loaded?.SerialPort.list())
    .catch(() => undefined);
  if (found && found.length > 0) return found.map(({ path }) => path);
  // Where the system cannot list them, by their names.
  const names = await readdir("/dev").catch(() => []);
  return names.filter((name) => /^tty(?:USB|ACM)\d+$/.test(name)).map((name) => `/dev/${name}`);
}

async function whyNotOpened(error: unknown, path: string): Promise<string> {
  const said = saidOf(error);
  if (/permission|access denied|EACCES/i.test(said))
    return `The bridge may not use ${path}: another program holds it, or this account is not in the group that may (dialout on Debian).`;
  if (/lock|busy|EBUSY/i.test(said)) return `${path} is in use by another program: close that first.`;
  if (/no such file|ENOENT|file not found/i.test(said)) {
    const there = await serialPorts();
    return `There is no serial port ${path}. ${there.length === 0 ? "None is seen on this computer: look at the cable." : `There ${there.length === 1 ? "is" : "are"} ${there.slice(0, 8).join(", ")}.`}`;
  }
  return `The serial port ${path} could not be opened: ${said}.`;
}

/** A device at a serial port. */
export const serial: LineKind<"serial"> = {
  open: async ({ path, baud }, { bytes, lost }) => {
    const loaded = await serialPackage();
    if (!loaded) throw new NoLine("This computer’s bridge cannot reach serial ports: no build of the package fits it.");
    const port = await new Promise<SerialPort>((resolve, reject) => {
      const opened = new loaded.SerialPort({ path, baudRate: baud, autoOpen: false });
      opened.open((error) => (error ? reject(error) : resolve(opened)));
    }).catch(async (error: unknown) => {
      throw new NoLine(await whyNotOpened(error, path));
    });
    let isClosed = false;
    port.on("data", bytes);
    port.on("error", () => undefined);
    port.on("close", () => {
      if (!isClosed) lost(`The serial port ${path} is gone: look at the cable.`);
    });
    return {
      write: (sent) =>
        new Promise((resolve, reject) => {
          port.write(Buffer.from(sent), (error) => (error ? reject(error) : resolve()));
        }),
      close: () =>
        new Promise((resolve) => {
          isClosed = true;
          port.close(() => resolve());
        }),
    };
  },
};

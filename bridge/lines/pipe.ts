import { open, stat } from "node:fs/promises";
import { constants } from "node:fs";
import { connect } from "node:net";
import { codeOf, NoLine, saidOf, type Hearing, type Line, type LineKind } from "./line";

function whyNotOpened(error: unknown, path: string): string {
  switch (codeOf(error)) {
    case "ENOENT":
      return `There is no pipe ${path}: the program that reads it makes it, so start that first.`;
    case "ENXIO":
    case "ECONNREFUSED":
      return `Nobody reads the pipe ${path}: start the program that does.`;
    case "EACCES":
    case "EPERM":
      return `The bridge may not write to ${path}: its owner has to allow that.`;
    default:
      return `The pipe ${path} could not be opened: ${saidOf(error)}.`;
  }
}

/** A pipe of this computer that another program reads: one with a name in the file system, a local socket, or Windows’ own. */
export const pipe: LineKind<"pipe"> = {
  open: async ({ path }, hearing) => {
    try {
      const isFifo = !path.startsWith("\\\\") && (await stat(path)).isFIFO();
      return await (isFifo ? intoFifo(path) : overSocket(path, hearing));
    } catch (error) {
      throw new NoLine(whyNotOpened(error, path));
    }
  },
};

async function intoFifo(path: string): Promise<Line> {
  // Without waiting for a reader: that nobody reads is told at once.
  const file = await open(path, constants.O_WRONLY | constants.O_NONBLOCK);
  return { write: async (sent) => void (await file.write(sent)), close: () => file.close() };
}

const overSocket = (path: string, { bytes, lost }: Hearing): Promise<Line> =>
  new Promise((resolve, reject) => {
    const socket = connect(path);
    let isClosed = false;
    socket.once("error", reject);
    socket.once("connect", () => {
      socket.on("data", bytes);
      socket.on("close", () => {
        if (!isClosed) lost(`Whoever read the pipe ${path} has closed it.`);
      });
      resolve({
        write: (sent) => new Promise((done, failed) => socket.write(sent, (error) => (error ? failed(error) : done()))),
        close: () =>
          new Promise((done) => {
            isClosed = true;
            socket.end(() => done());
          }),
      });
    });
  });

import { createSocket } from "node:dgram";
import { lookup } from "node:dns/promises";
import { NoLine, saidOf, type LineKind } from "./line";
import { whyNotConnected } from "./tcp";

/** A device that takes datagrams. Whether anything takes them is known only where it answers. */
export const udp: LineKind<"udp"> = {
  open: async ({ host, port }, { bytes, lost }) => {
    const { address, family } = await lookup(host).catch((error: unknown) => {
      throw new NoLine(whyNotConnected(error, host, port));
    });
    const socket = createSocket(family === 6 ? "udp6" : "udp4");
    await new Promise<void>((resolve, reject) => {
      socket.once("error", reject);
      socket.connect(port, address, () => resolve());
    }).catch((error: unknown) => {
      throw new NoLine(whyNotConnected(error, host, port));
    });
    socket.on("message", bytes);
    socket.on("error", (error) => lost(`${host}, port ${port} refuses what is sent: ${saidOf(error)}.`));
    return {
      write: (sent) =>
        new Promise((resolve, reject) => socket.send(sent, (error) => (error ? reject(error) : resolve()))),
      close: () => new Promise((resolve) => socket.close(() => resolve())),
    };
  },
};

import { createServer, type AddressInfo, type Socket } from "node:net";

/** A stand-in that devices are tried with, as it stands at its way; until it is stopped. */
export type Attached = { stop: () => Promise<void> };

/** Listens at a port of this computer for whoever connects; 0 for any port that is free. Rejects where the port is taken. */
export async function listenAt(
  port: number,
  connected: (socket: Socket) => void,
): Promise<Attached & { port: number }> {
  const open = new Set<Socket>();
  const server = createServer({ noDelay: true }, (socket) => {
    open.add(socket);
    socket.on("error", () => undefined);
    socket.on("close", () => open.delete(socket));
    connected(socket);
  });
  await new Promise<void>((resolve, reject) => server.once("error", reject).listen(port, "127.0.0.1", resolve));
  return {
    port: (server.address() as AddressInfo).port,
    stop: () =>
      new Promise((resolve) => {
        for (const socket of open) socket.destroy();
        server.close(() => resolve());
      }),
  };
}

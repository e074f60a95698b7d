import type { Server } from "node:http";
import type { AddressInfo } from "node:net";

/** Something of ours that answers at a port of this computer. */
export type Listening = { address: string; stop: () => Promise<void> };

/** Lets a server answer to this computer at a port; 0 for any that is free. Rejects where it is taken. */
export async function listening(server: Server, port: number): Promise<Listening> {
  await new Promise<void>((resolve, reject) => server.once("error", reject).listen(port, "127.0.0.1", resolve));
  const { port: taken } = server.address() as AddressInfo;
  return {
    address: `http://localhost:${taken}/`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

import { connect, type Socket } from "node:net";
import { codeOf, NoLine, saidOf, type LineKind } from "./line";

const patienceMs = 3000;

/** Why a connection failed, told so that the mistake can be found. */
export function whyNotConnected(error: unknown, host: string, port: number): string {
  switch (codeOf(error)) {
    case "ECONNREFUSED":
      return `The computer ${host} is there, but nothing listens at its port ${port}: look whether the device’s program runs, and whether the port is right.`;
    case "ENOTFOUND":
    case "EAI_AGAIN":
      return `No computer is called ${host}: look whether the name is written as the device shows it, or write its number.`;
    case "EHOSTUNREACH":
    case "ENETUNREACH":
    case "EHOSTDOWN":
      return `There is no way to ${host}: look whether both computers are on the same network, and whether the number is right.`;
    case "ETIMEDOUT":
      return `${host} did not answer within ${patienceMs / 1000} s: the number is wrong, the device is off, or a firewall keeps the port ${port} shut.`;
    case "EACCES":
    case "EPERM":
      return `This computer does not let the bridge connect to ${host}, port ${port}: a firewall here may forbid it.`;
    case "ECONNRESET":
    case "EPIPE":
      return `${host} took the connection and closed it at once: something else than the device may listen at port ${port}.`;
    default:
      return `${host}, port ${port} could not be reached: ${saidOf(error)}.`;
  }
}

const timedOut = () => Object.assign(new Error("timed out"), { code: "ETIMEDOUT" });

const connected = (host: string, port: number): Promise<Socket> =>
  new Promise((resolve, reject) => {
    const socket = connect({ host, port, noDelay: true, timeout: patienceMs });
    socket.once("timeout", () => socket.destroy(timedOut()));
    socket.once("error", reject);
    socket.once("connect", () => {
      socket.setTimeout(0);
      socket.off("error", reject);
      resolve(socket);
    });
  });

/** A device that listens at a port, on this computer or another one. */
export const tcp: LineKind<"tcp"> = {
  open: async ({ host, port }, { bytes, lost }) => {
    const socket = await connected(host, port).catch((error: unknown) => {
      throw new NoLine(whyNotConnected(error, host, port));
    });
    let isClosed = false;
    socket.on("data", bytes);
    socket.on("error", () => undefined);
    socket.on("close", () => {
      if (!isClosed) lost(`${host}, port ${port} closed the connection.`);
    });
    return {
      write: (sent) =>
        new Promise((resolve, reject) => socket.write(sent, (error) => (error ? reject(error) : resolve()))),
      close: () =>
        new Promise((resolve) => {
          isClosed = true;
          socket.end(() => resolve());
          socket.destroySoon();
        }),
    };
  },
};

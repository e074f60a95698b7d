import type { DeviceSettings, DeviceTest, DeviceWay } from "./messages";

/** The ways to devices, as they are chosen from. */
export const wayNames: Record<DeviceWay, string> = {
  serial: "a serial port",
  tcp: "the network, TCP",
  udp: "the network, UDP",
  pipe: "a pipe of this computer",
  file: "a file of this computer",
};

const where = (settings: DeviceSettings): string => {
  switch (settings.kind) {
    case "serial":
      return `serial ${settings.path}, ${settings.baud.toLocaleString("en")} baud`;
    case "tcp":
    case "udp":
      return `${settings.kind.toUpperCase()} ${settings.host}:${settings.port}`;
    default:
      return `${settings.kind} ${settings.path}`;
  }
};

/** Where a device is and how markers go out to it, in a line. */
export function deviceInWords(settings: DeviceSettings): string {
  const { pulseMs } = settings;
  if (settings.kind === "file") return where(settings);
  return `${where(settings)} · ${pulseMs > 0 ? `pulse of ${pulseMs} ms` : "each value stands until the next"}`;
}

const ms = (value: number) => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;

/** What came of a test, in a line. */
export function testInWords({ sent, answered, median, worst, problem }: DeviceTest): string {
  const counts = `${sent} ${sent === 1 ? "message" : "messages"} sent`;
  if (median === null || worst === null) return problem ?? `${counts}; the device is not one that answers`;
  const told = `${counts}, ${answered} answered, ${sent - answered} lost · ${ms(median)} (median), ${ms(worst)} at worst`;
  return problem === null ? told : `${told}. ${problem}`;
}

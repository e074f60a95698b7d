import { isTracker, type DeviceSettings, type DeviceTest, type DeviceWay, type TrackerSettings } from "./messages";

/** The adapters of trackers, as they are chosen from. */
export const adapterNames: Record<TrackerSettings["adapter"], string> = {
  lines: "lines of text over TCP",
};

/** The ways to marker lines, as they are chosen from. */
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
    case "tracker":
      return `at ${settings.host}:${settings.port}`;
    default:
      return `${settings.kind} ${settings.path}`;
  }
};

/** Where a device is and how markers go out to it, in a line. */
export function deviceInWords(settings: DeviceSettings): string {
  if (isTracker(settings)) return `${where(settings)} · ${adapterNames[settings.adapter]}`;
  const { pulseMs } = settings;
  if (settings.kind === "file") return where(settings);
  return `${where(settings)} · ${pulseMs > 0 ? `pulse of ${pulseMs} ms` : "each value stands until the next"}`;
}

const ms = (value: number) => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;

/** What came of a test, in a line. */
export function testInWords({ sent, answered, median, worst, rate, seen, problem }: DeviceTest): string {
  if (rate !== undefined)
    return problem ?? `${Math.round(rate)} samples a second, eyes seen in ${Math.round((seen ?? 0) * 100)} %`;
  const counts = `${sent} ${sent === 1 ? "message" : "messages"} sent`;
  if (median === null || worst === null) return problem ?? `${counts}; the device is not one that answers`;
  const told = `${counts}, ${answered} answered, ${sent - answered} lost · ${ms(median)} (median), ${ms(worst)} at worst`;
  return problem === null ? told : `${told}. ${problem}`;
}

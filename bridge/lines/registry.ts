import type { DeviceWay, LineSettings } from "../../core/bridge/messages";
import { file } from "./file";
import type { Hearing, Line, LineKind } from "./line";
import { pipe } from "./pipe";
import { hasSerial, serial } from "./serial";
import { tcp } from "./tcp";
import { udp } from "./udp";

const kinds: { [K in DeviceWay]: LineKind<K> } = { serial, tcp, udp, pipe, file };

/** Opens the way to a device; rejects with `NoLine`, whose message says what is wrong. */
export const openLine = (settings: LineSettings, hearing: Hearing): Promise<Line> =>
  (kinds[settings.kind] as LineKind<DeviceWay>).open(settings, hearing);

/** The ways that can be gone from this computer. */
export const waysHere = async (): Promise<DeviceWay[]> => {
  const all = Object.keys(kinds) as DeviceWay[];
  return (await hasSerial()) ? all : all.filter((way) => way !== "serial");
};

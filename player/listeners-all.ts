import { deviceNames, type DeviceName } from "~/core/devices/registry";
import { byFileName } from "./by-file-name";
import { addListener } from "./listeners";

/*
 * Every device's listener at once, for whoever designs. Each stands in the file of its name; nothing else registers it.
 */
const all = byFileName<DeviceName, { listener: unknown }>(
  import.meta.glob(["./devices/*.ts", "!./devices/*.test.ts"], { eager: true }),
  deviceNames,
);
for (const name of deviceNames) addListener(name, all[name]);

import type { PageDevice } from "~/core/devices/web/web";
import type { DeviceListener } from "../device-listener";

/** A web page says itself what it sends, from its own frame: see stage/items/web.ts. */
export const listener: DeviceListener<PageDevice> = () => () => undefined;

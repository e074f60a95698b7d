import type { PageDevice } from "~/core/devices/web/web";
import { ItemChoice } from "../answer-items";
import type { DeviceSettings } from "../device-settings";

export const settings: DeviceSettings<PageDevice> = {
  title: "Web page",
  offer: "A value that a web page sends",
  Fields: ({ device, onChange, block }) => (
    <ItemChoice
      says="Web page"
      kind="web"
      value={device.item}
      onChange={(item) => onChange({ ...device, item })}
      block={block}
    />
  ),
};

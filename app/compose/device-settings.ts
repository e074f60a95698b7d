import type { ReactNode } from "react";
import type { AnswerDevice } from "~/core/devices/registry";
import type { Block } from "~/core/design/block";
import type { Context } from "~/core/values/context";

export type DeviceProps<D extends AnswerDevice> = {
  device: D;
  onChange: (device: D) => void;
  block: Block;
  context: Context;
};
/** How a way to answer is offered, and what the margin asks of it. */
export type DeviceSettings<D extends AnswerDevice> = {
  title: string;
  offer: string;
  Fields: (props: DeviceProps<D>) => ReactNode;
};

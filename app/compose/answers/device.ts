import type { ReactNode } from "react";
import type { AnswerDevice, Block } from "~/core/design/types";
import type { Context } from "~/core/run/resolve";

export type DeviceProps<D extends AnswerDevice> = {
  device: D;
  onChange: (device: D) => void;
  block: Block;
  context: Context;
};
export type DeviceFields<D extends AnswerDevice> = (props: DeviceProps<D>) => ReactNode;

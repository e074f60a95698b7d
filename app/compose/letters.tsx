import type { Bindable } from "~/core/values/ref";
import { BoundNumber } from "./item-fields";

/** The letter size of what is written on a control. */
export const Letters = ({
  item,
  set,
  near,
}: {
  item: { fontSize: Bindable<number> };
  set: (change: { fontSize: Bindable<number> }, merge: string) => void;
  near: Parameters<typeof BoundNumber>[0]["near"];
}) => (
  <BoundNumber
    near={near}
    says="Letters"
    label="letter size in stage units"
    value={item.fontSize}
    onChange={(fontSize) => set({ fontSize }, "letters")}
    constant={4}
    least={0.01}
    suffix="u"
  />
);

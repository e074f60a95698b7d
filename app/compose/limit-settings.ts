import type { ReactNode } from "react";
import type { Block } from "~/core/design/block";
import { limitKinds, type Limit, type LimitKind } from "~/core/limits/registry";
import type { Id } from "~/core/values/ref";
import { byFileName } from "~/player/by-file-name";

type Of<K extends LimitKind> = Extract<Limit, { kind: K }>;
/** How a kind of limit is offered, and the sentence in which it is set. */
export type LimitSettings<K extends LimitKind> = {
  /** What is offered, and the limit it makes of the table's first two columns. */
  offers: readonly (readonly [says: string, make: (column: Id, other: Id) => Of<K>])[];
  Fields: (props: { limit: Of<K>; block: Block; onChange: (limit: Limit) => void }) => ReactNode;
};

/** Each kind's settings stand in the file of its name; nothing else registers them. */
const settings = byFileName<LimitKind, LimitSettings<LimitKind>>(
  import.meta.glob(["./limits/*.tsx", "!./limits/*.test.tsx"], { eager: true, import: "settings" }),
  limitKinds,
);

export const settingsOfLimit = (kind: LimitKind): LimitSettings<LimitKind> => settings[kind];
export const limitOffers = limitKinds.flatMap((kind) => settings[kind].offers);

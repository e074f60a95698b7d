import { Grid3x3 } from "lucide-react";
import type { ReactNode } from "react";

/** A name whose value comes from the table, a group or the session. */
export const Chip = ({
  children,
  gone = false,
  isInWords = false,
}: {
  children: ReactNode;
  gone?: boolean;
  isInWords?: boolean;
}) => (
  <span
    className={`inline-flex h-5 items-center gap-1 rounded-md px-1.5 text-xs ${isInWords ? "" : "font-mono"} ${gone ? "bg-alarm-tint text-alarm line-through" : "bg-sheen-tint text-sheen"}`}
  >
    <Grid3x3 size={11} aria-hidden="true" />
    {children}
  </span>
);

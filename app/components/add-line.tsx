import { Plus } from "lucide-react";
import type { ComponentProps } from "react";

/** The line at the end of a list that adds to it. */
export const AddLine = ({ says, ...button }: { says: string } & ComponentProps<"button">) => (
  <button
    type="button"
    className="flex items-center gap-1 justify-self-start text-sm font-medium text-plumage"
    {...button}
  >
    <Plus size={14} aria-hidden="true" /> {says}
  </button>
);

import { ArrowLeft } from "lucide-react";
import type { ReactNode } from "react";

/** The right margin, 300 px: what is selected and its settings. */
export const Margin = ({
  title,
  kind,
  children,
  actions,
  up,
}: {
  /** What this belongs to, and how to get there. */
  up?: { name: string; holds?: string; go: () => void };
  title: ReactNode;
  kind: string;
  children: ReactNode;
  actions?: ReactNode;
}) => (
  <aside
    aria-label="Settings of what is selected"
    className="relative h-full w-[300px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-4 pb-6 pt-3 small:h-auto small:w-full small:border-l-0 small:border-t"
  >
    {up && (
      <button
        type="button"
        className="-ml-1 mb-1 flex max-w-full items-center gap-1 rounded-md px-1 text-sm text-plumage hover:underline"
        title="Escape does the same"
        onClick={up.go}
      >
        <ArrowLeft size={13} aria-hidden="true" className="shrink-0" />
        <span className="truncate">
          {up.name}: {up.holds ?? "order, passes, limits"}
        </span>
      </button>
    )}
    <div className="flex flex-wrap items-center gap-x-2">
      <h2 className="max-w-full truncate text-base font-bold">{title}</h2>
      <span className="max-w-full truncate text-sm text-muted">{kind}</span>
      <span className="ml-auto flex">{actions}</span>
    </div>
    {children}
  </aside>
);

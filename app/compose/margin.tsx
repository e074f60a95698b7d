import type { ReactNode } from "react";

/** The right margin, 300 px: what is selected and its settings. */
export const Margin = ({
  title,
  kind,
  children,
  actions,
}: {
  title: ReactNode;
  kind: string;
  children: ReactNode;
  actions?: ReactNode;
}) => (
  <aside
    aria-label="Settings of what is selected"
    className="relative h-full w-[300px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-4 pb-6 pt-3"
  >
    <div className="flex items-center gap-2">
      <h2 className="min-w-0 truncate text-base font-bold">{title}</h2>
      <span className="truncate text-sm text-muted">{kind}</span>
      <span className="ml-auto flex">{actions}</span>
    </div>
    {children}
  </aside>
);

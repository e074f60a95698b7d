import type { ReactNode } from "react";

type Entry = { id: string; name: ReactNode; hint: string; open: () => void };

/** Things of a study in the margin, a line each that opens it. */
export const MarginList = ({ entries }: { entries: Entry[] }) => (
  <ul className="grid">
    {entries.map(({ id, name, hint, open }) => (
      <li key={id}>
        <button
          type="button"
          className="flex w-full items-center gap-2 rounded-md px-1 py-0.5 text-left hover:bg-plumage-tint"
          onClick={open}
        >
          <span className="truncate text-sm">{name}</span>
          <span className="ml-auto truncate font-mono text-xs text-muted">{hint}</span>
        </button>
      </li>
    ))}
  </ul>
);

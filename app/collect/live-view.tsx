import { useEffect, useRef, useState } from "react";
import { AlertTriangle } from "lucide-react";
import { Choice } from "~/app/components/fields";
import { partsInOrder } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import type { LinkSet } from "~/server/link-sets";
import type { EntryLink } from "~/server/links";
import type { LiveSummary } from "~/server/live";
import type { SessionOrder, ShownState } from "~/server/session-list";

const states: [ShownState | "", string][] = [
  ["", "any state"],
  ["active", "taking part now"],
  ["broken-off", "broken off"],
  ["finished", "finished"],
  ["ended", "left, screened out, declined"],
  ["not-counted", "not counted"],
  ["pilot", "pilots"],
];
const orders: [SessionOrder, string][] = [
  ["newest", "latest begun first"],
  ["seen", "last seen first"],
  ["number", "by number"],
];

/** What of the sessions is asked for, as it stands in the address. */
export type AskedSessions = { search: string; link: string; group: string; state: string; order: string };

/** Which sessions are shown, and in which order. */
export function SessionFilters({
  asked,
  ask,
  links,
  sets,
  document,
}: {
  asked: AskedSessions;
  ask: (change: Partial<AskedSessions>) => void;
  links: EntryLink[];
  sets: LinkSet[];
  document: StudyDocument;
}) {
  return (
    <div role="search" aria-label="Sessions" className="mt-2 flex flex-wrap items-center gap-2">
      <SearchField value={asked.search} onChange={(search) => ask({ search })} />
      <span className="w-44">
        <Choice
          label="Sessions by link"
          value={asked.link}
          options={[
            ["", "any link"],
            ...links.map(({ token, label }) => [token, label] as const),
            ...sets.map(({ id, label }) => [id, label] as const),
          ]}
          onChange={(link) => ask({ link })}
        />
      </span>
      {document.groups.length > 1 && (
        <span className="w-36">
          <Choice
            label="Sessions of a group"
            value={asked.group}
            options={[["", "any group"], ...document.groups.map(({ id, name }) => [id, name] as const)]}
            onChange={(group) => ask({ group })}
          />
        </span>
      )}
      <span className="w-52">
        <Choice
          label="Sessions by state"
          value={asked.state as ShownState | ""}
          options={states}
          onChange={(state) => ask({ state })}
        />
      </span>
      <span className="w-40">
        <Choice
          label="Order of sessions"
          value={(asked.order || "newest") as SessionOrder}
          options={orders}
          onChange={(order) => ask({ order: order === "newest" ? "" : order })}
        />
      </span>
    </div>
  );
}

/** Looked for once nothing more is typed for a moment. */
function SearchField({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const [typed, setTyped] = useState(value);
  // What else was asked meanwhile stays asked.
  const latest = useRef(onChange);
  useEffect(() => void (latest.current = onChange));
  useEffect(() => {
    if (typed === value) return;
    const timer = setTimeout(() => latest.current(typed), 300);
    return () => clearTimeout(timer);
  }, [typed, value]);
  return (
    <input
      type="search"
      aria-label="Number or code"
      placeholder="Number or code"
      maxLength={100}
      value={typed}
      onChange={({ target }) => setTyped(target.value)}
      className="field !w-44"
    />
  );
}

/** What needs somebody. */
export const LiveMessages = ({ messages }: { messages: readonly string[] }) =>
  messages.length > 0 && (
    <ul aria-label="What needs somebody" className="mt-3 grid gap-1">
      {messages.map((message) => (
        <li
          key={message}
          className="flex items-center gap-2 rounded-md bg-chestnut-tint px-3 py-1 text-sm text-chestnut"
        >
          <AlertTriangle size={15} aria-hidden="true" />
          {message}
        </li>
      ))}
    </ul>
  );

/** “median 11.4 min, quartiles 9.8 and 13.2”. */
export const minutesInWords = ({ minutes }: LiveSummary): string =>
  minutes === null
    ? ""
    : `median ${minutes.median.toFixed(1)} min, quartiles ${minutes.lower.toFixed(1)} and ${minutes.upper.toFixed(1)}`;

/** At which part people left: a bar a part, in the order of parts. */
export function Leaving({ leaving, document }: { leaving: LiveSummary["leaving"]; document: StudyDocument }) {
  const names = new Map(partsInOrder(document).map(({ id, name }) => [id, name]));
  const all = leaving.reduce((sum, { count }) => sum + count, 0);
  const most = Math.max(...leaving.map(({ count }) => count));
  return (
    all > 0 && (
      <figure className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 px-0.5 text-sm text-muted">
        <figcaption>{all} left:</figcaption>
        {leaving.map(({ part, count }) => (
          <span key={part ?? ""} className="flex items-center gap-1.5">
            {part === null ? "before the first part" : `at ${names.get(part) ?? "a part of an earlier release"}`}
            <span aria-hidden="true" className="h-2 bg-chestnut" style={{ width: (60 * count) / most }} />
            <span className="font-mono text-xs">{count}</span>
          </span>
        ))}
      </figure>
    )
  );
}

import { startCase } from "~/core/describe/in-words";
import { MessageSquare } from "lucide-react";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useLocation } from "react-router";
import { buttonClass } from "~/app/components/button";
import { useStudy, type View } from "~/app/editing/use-study";
import type { About } from "~/core/describe/about";
import { partsInOrder } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import type { Present } from "~/server/presence";
import { Comments } from "./comments";

const everyMs = 8000;
const post = (code: string, body: unknown, keepalive = false) =>
  fetch(`/studies/${code}/together`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
    keepalive,
  });

/** Who else is in the study just now, and where; and what is said of it. */
export function Together() {
  const { code, document, view } = useStudy();
  const section = useLocation().pathname.split("/")[3] ?? "plan";
  const [others, setOthers] = useState<Present[]>([]);
  const [open, setOpen] = useState(0);
  const [isShown, setShown] = useState(false);
  const window = useMemo(() => `w${Date.now().toString(36)}${Math.random().toString(36).slice(2, 10)}`, []);
  const part = section === "compose" ? view.part : view.selected.kind === "part" ? view.selected.part : null;
  const tell = useCallback(async () => {
    const answer = await post(code, { window, section, part }).catch(() => null);
    if (!answer?.ok) return;
    const told = (await answer.json()) as { others: Present[]; open: number };
    setOthers(told.others);
    setOpen(told.open);
  }, [code, window, section, part]);
  useEffect(() => {
    const isSeen = () => globalThis.document.visibilityState === "visible";
    void tell();
    const timer = setInterval(() => void (isSeen() && tell()), everyMs);
    return () => clearInterval(timer);
  }, [tell]);
  useEffect(() => {
    const leaves = () => void post(code, { window, section: "", part: null, leaves: true }, true).catch(() => null);
    addEventListener("pagehide", leaves);
    return () => {
      removeEventListener("pagehide", leaves);
      leaves();
    };
  }, [code, window]);
  return (
    <>
      <span role="group" aria-label="Who else is here" className="flex items-center gap-1">
        {others.slice(0, 4).map((each) => (
          <span
            key={each.name}
            title={`${each.name} is in ${whereInWords(document, each)}`}
            aria-label={`${each.name} is in ${whereInWords(document, each)}`}
            role="img"
            className="grid size-6 place-items-center rounded-full border border-hairline bg-plumage-tint text-[11px] font-semibold text-plumage"
          >
            {initialsOf(each.name)}
          </span>
        ))}
        {others.length > 4 && <span className="text-xs text-muted">+{others.length - 4}</span>}
      </span>
      <button
        type="button"
        className={`${buttonClass("quiet")} !px-1.5`}
        aria-label={open === 0 ? "Comments" : `Comments, ${open} open`}
        title="Comments"
        onClick={() => setShown(true)}
      >
        <MessageSquare size={16} aria-hidden="true" />
        {open > 0 && <span className="font-mono text-xs">{open}</span>}
      </button>
      {isShown && (
        <Comments
          code={code}
          about={spokenOf(document, section, view)}
          send={(body) => post(code, body)}
          onChange={() => void tell()}
          onClose={() => setShown(false)}
        />
      )}
    </>
  );
}

const initialsOf = (name: string): string =>
  name
    .split(/\s+/)
    .map((word) => word[0] ?? "")
    .join("")
    .slice(0, 2)
    .toUpperCase();

function whereInWords(document: StudyDocument, { section, part }: Present): string {
  const name = partsInOrder(document).find(({ id }) => id === part)?.name;
  const place = section === "" ? "this study" : startCase(section);
  return name === undefined ? place : `${place}, at ${name}`;
}

/** What is selected, as something that can be spoken of. */
function spokenOf(document: StudyDocument, section: string, { selected, part, row, opened }: View): About {
  const here = section === "compose" ? part : null;
  switch (selected.kind) {
    case "part":
      return { kind: "part", part: selected.part, id: null };
    case "scene":
    case "item":
      return { kind: "scene", part, id: selected.scene };
    case "piece":
      return { kind: "question", part, id: selected.piece };
    default:
  }
  if (here !== null && opened !== null) return { kind: "scene", part: here, id: opened };
  if (here !== null && row !== null) return { kind: "row", part: here, id: row };
  return here !== null && partsInOrder(document).some(({ id }) => id === here)
    ? { kind: "part", part: here, id: null }
    : { kind: "study", part: null, id: null };
}

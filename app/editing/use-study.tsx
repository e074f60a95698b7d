import {
  createContext,
  useContext,
  useDeferredValue,
  useEffect,
  useSyncExternalStore,
  type Dispatch,
  type SetStateAction,
} from "react";
import { toast } from "sonner";
import { mayDo, type Right, type Role } from "~/core/rights/rights";
import type { Finding } from "~/core/check/finding";
import type { Ribbon } from "~/core/compile/ribbon";
import { expectedMinutes, mostMinutes } from "~/core/compile/minutes";
import type { Edit } from "~/core/design/edits/edit";
import type { Id } from "~/core/values/ref";
import type { StudyDocument } from "~/core/design/document";
import { hasSittings } from "~/core/design/sittings";
import { firstSittingWith } from "~/core/order/sittings";
import type { ScreenName } from "~/app/compose/stage/screens";
import type { Background } from "./background";
import type { EditorSnapshot, StudyEditor } from "./study-editor";

/** What the design screens show: the same participant and trial in ribbon, figure and table. */
export type View = {
  participant: number;
  part: Id | null;
  trial: number | null;
  row: Id | null;
  selected: Selected;
  color: string | null;
  height: string | null;
  /** What stands below the figure of a block: its table, its rules, or until when it is repeated. */
  below: "table" | "rules" | "markers" | "criterion";
  /** The scene that is opened as a stage, in Compose. */
  opened: Id | null;
  /** The shape of display it is shown in, and whether rings of visual angle are drawn. */
  screen: ScreenName;
  /** The dialog that is open, of those every design screen has. */
  asked: "history" | "media" | "commands" | "shortcuts" | "values" | "pools" | null;
  /** The pool that is shown, where pools are. */
  pool: Id | null;
  rings: boolean;
};
export type Selected =
  | { kind: "nothing" }
  | { kind: "part"; part: Id }
  /** Several neighbouring parts, from the one it began with to the one it reaches to. */
  | { kind: "parts"; from: Id; to: Id }
  | { kind: "bracket"; bracket: Id }
  | { kind: "allocation" }
  | { kind: "group"; group: Id }
  | { kind: "group-value"; value: Id }
  | { kind: "scene"; scene: Id }
  /** `also`: further items of the same scene, selected with it. */
  | { kind: "item"; scene: Id; item: Id; also?: Id[] }
  | { kind: "answer"; answer: Id }
  | { kind: "column"; column: Id }
  /** Of a page: a question, or anything else that stands in its flow. */
  | { kind: "piece"; piece: Id }
  | { kind: "score"; score: Id }
  | { kind: "variable"; variable: Id }
  | { kind: "service"; service: Id }
  | { kind: "rule"; rule: Id };

export type Study = {
  code: string;
  /** What whoever looks at it is in this study. */
  roles: readonly Role[];
  /** Somebody without an account, who reads it by a link. */
  isGuest: boolean;
  editor: StudyEditor;
  background: Background;
  /** How long each part took in finished sessions, in minutes; parts no one has played are left out. */
  measured: Readonly<Record<Id, number>>;
  view: View;
  setView: Dispatch<SetStateAction<View>>;
};
export const StudyContext = createContext<Study | null>(null);

export function useStudy(): Study &
  EditorSnapshot & {
    edit: (edit: Edit, merge?: string) => void;
    look: (change: Partial<View>) => void;
    may: (right: Right) => boolean;
  } {
  const study = useContext(StudyContext);
  if (!study) throw new Error("useStudy is used outside a study");
  const snapshot = useSyncExternalStore(study.editor.subscribe, study.editor.snapshot, study.editor.snapshot);
  return {
    ...study,
    ...snapshot,
    may: (right) => mayDo(study.roles, right),
    edit: (edit, merge) => {
      if (mayDo(study.roles, "change-design")) study.editor.apply(edit, merge ?? null);
      else refuse();
    },
    look: (change) => {
      if (!isRefused) study.setView((view) => ({ ...view, ...change }));
    },
  };
}

/** Just now a change was refused: what it would have made is not there to be looked at. */
let isRefused = false;
function refuse(): void {
  toast("You can look at this design, not change it.", { id: "read only" });
  isRefused = true;
  queueMicrotask(() => (isRefused = false));
}

/**
 * About how long a session takes, in whole minutes, as it is said everywhere: as measured where there are data, else as
 * planned; a range where something is repeated until good enough; sittings one after the other (`12 + 5`).
 */
export function useMinutes(): { minutes: string; isMeasured: boolean } {
  const { document, measured } = useStudy();
  const sittings = hasSittings(document) ? document.sittings.map((_, index) => index + 1) : [null];
  const minutes = sittings
    .map((sitting) => {
      const whole = (of: typeof expectedMinutes) => Math.max(1, Math.round(of(document, measured, sitting)));
      const [least, most] = [whole(expectedMinutes), whole(mostMinutes)];
      return least === most ? String(least) : `${least}–${most}`;
    })
    .join(" + ");
  return { minutes, isMeasured: Object.keys(measured).length > 0 };
}

const nothingFound: Finding[] = [];

/** Preflight's findings on the study, a moment behind the edits. */
export function useFindings(): Finding[] {
  const { background } = useStudy();
  return useSyncExternalStore(background.subscribe, background.findings, () => nothingFound);
}

/** Asks for the ribbon of the participant shown; the previous one stays until the next is ready. */
export function useRibbon({ participant, color, height, part }: View): Ribbon | null {
  const { background, document } = useStudy();
  // A part of later sittings only is shown in the first of them.
  const sitting = part === null ? 1 : firstSittingWith(document, part);
  useEffect(
    () => background.ask(document, { participant, color, height, sitting }),
    [background, document, participant, color, height, sitting],
  );
  return useShownRibbon();
}

/** The ribbon that is shown under the design screens. */
export function useShownRibbon(): Ribbon | null {
  const { background } = useStudy();
  // Drawing thousands of ticks waits until no key is to be shown.
  return useDeferredValue(useSyncExternalStore(background.subscribe, background.ribbon, () => null));
}

/** The items that are selected, the one whose settings are shown first. */
export const selectedItems = (selected: Selected): Id[] =>
  selected.kind === "item" ? [selected.item, ...(selected.also ?? [])] : [];

export const mediaUrlIn =
  (code: string, document: Pick<StudyDocument, "media">) =>
  (id: Id): string | null => {
    const file = document.media.find((each) => each.id === id);
    if (!file) return null;
    // A page runs in a frame of its own, with headers of its own.
    return file.mime === "text/html" ? `/pages/design/${code}/${file.sha256}` : `/studies/${code}/media/${file.sha256}`;
  };

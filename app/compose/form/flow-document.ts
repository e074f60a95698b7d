import type { JSONContent } from "@tiptap/core";
import { isQuestion } from "~/core/design/questions";
import type { Piece } from "~/core/design/page";
import type { FormattedText } from "~/core/values/formatted-text";
import type { Id } from "~/core/values/ref";
import { fromEditor, textKey, toEditor, type FindRef, type NameOf } from "../written-text";

/*
 * A page's flow as the editor's document: texts as paragraphs, headings and lists; a question as a node that holds its own
 * text; anything else as a node without content. Nodes know their piece by its id, so that what is set in the margin does
 * not touch the document; `carried` holds the piece whole where a node came from elsewhere.
 */

const blocksOf = (text: FormattedText, nameOf: NameOf): JSONContent[] => toEditor(text, nameOf).content ?? [];

export function flowToEditor(flow: readonly Piece[], nameOf: NameOf): JSONContent {
  const content = flow.flatMap((piece): JSONContent[] => {
    if (piece.kind === "text") return blocksOf(piece.text, nameOf);
    const attrs = { piece: piece.id, carried: null };
    return isQuestion(piece)
      ? [{ type: "question", attrs, content: blocksOf(piece.text, nameOf) }]
      : [{ type: "piece", attrs }];
  });
  // There is always somewhere to write behind the last question.
  if (content.at(-1)?.type !== "paragraph") content.push({ type: "paragraph" });
  return { type: "doc", content };
}

export type FromEditor = {
  find: FindRef;
  /** The page's flow as it was. */
  before: readonly Piece[];
  /** Whether a piece with this id stands elsewhere in the study. */
  isElsewhere: (id: Id) => boolean;
  /** A copy with ids and names of its own. */
  copied: (piece: Piece) => Piece;
  newTextId: () => Id;
};

const isEmptyText = (text: FormattedText): boolean =>
  text.every(({ as, runs }) => as === "paragraph" && runs.every((run) => "text" in run && run.text.trim() === ""));

/**
 * The editor's document as a flow. Pieces keep their ids; one that is there twice, or that came from elsewhere, becomes a
 * copy. A text keeps the id of the text that stood before the same piece.
 */
export function flowFromEditor(document: JSONContent, { find, before, ...make }: FromEditor): Piece[] {
  const known = new Map(before.map((piece) => [piece.id, piece]));
  const used = new Set<Id>();
  const flow: Piece[] = [];
  let text: JSONContent[] = [];
  const endText = (next: Id | null) => {
    const written = fromEditor({ type: "doc", content: text }, find);
    text = [];
    if (isEmptyText(written)) return;
    const at = next === null ? before.length : before.findIndex(({ id }) => id === next);
    const there = before[at - 1] ?? before.find(({ kind, id }) => kind === "text" && !used.has(id));
    const id = there?.kind === "text" && !used.has(there.id) ? there.id : make.newTextId();
    used.add(id);
    flow.push({ kind: "text", id, text: withoutOuterBlanks(written) });
  };
  for (const node of document.content ?? []) {
    if (node.type !== "question" && node.type !== "piece") {
      text.push(node);
      continue;
    }
    const piece = pieceOf(node);
    if (!piece) continue;
    endText(piece.id);
    used.add(piece.id);
    flow.push(
      isQuestion(piece) ? { ...piece, text: fromEditor({ type: "doc", content: node.content ?? [] }, find) } : piece,
    );
  }
  endText(null);
  return flow;

  function pieceOf({ attrs }: JSONContent): Piece | null {
    const id = String(attrs?.piece ?? "");
    const here = known.get(id);
    if (here && !used.has(id)) return here;
    const carried = here ?? carriedPiece(attrs?.carried);
    if (!carried) return null;
    return used.has(id) || make.isElsewhere(id) ? make.copied(carried) : carried;
  }
}

/** Empty paragraphs at the end of a text are places to write, no text. */
function withoutOuterBlanks(text: FormattedText): FormattedText {
  const isBlank = ({ as, runs }: FormattedText[number]) => as === "paragraph" && runs.length === 0;
  const last = text.findLastIndex((paragraph) => !isBlank(paragraph));
  const first = text.findIndex((paragraph) => !isBlank(paragraph));
  return text.slice(first, last + 1);
}

/** A piece that a node brought along; null where there is none. */
export function carriedPiece(carried: unknown): Piece | null {
  if (typeof carried !== "string" || carried === "") return null;
  try {
    return JSON.parse(carried) as Piece;
  } catch {
    return null;
  }
}

/** Equal exactly for flows that look the same in the editor, whatever is set in the margin. */
export const flowKey = (flow: readonly Piece[], nameOf: NameOf): string =>
  JSON.stringify(
    flow.map((piece) =>
      piece.kind === "text"
        ? ["text", textKey(piece.text, nameOf)]
        : [piece.id, isQuestion(piece) ? textKey(piece.text, nameOf) : ""],
    ),
  );

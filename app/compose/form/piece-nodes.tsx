import { Node as EditorNode, mergeAttributes } from "@tiptap/core";
import { NodeViewContent, NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from "@tiptap/react";
import { GripVertical } from "lucide-react";
import { useStudy } from "~/app/editing/use-study";
import { conditionInWords } from "~/core/describe/words";
import type { Page, Piece } from "~/core/design/page";
import { isQuestion, isSet, questionsOf } from "~/core/design/questions";
import { passagesInWords } from "~/core/passages/passage";
import { questionKind } from "~/core/questions/registry";
import { tableFrom } from "./pasted";
import { questionSettings } from "./question-kinds";

/** What nodes need of the page they are on; looked up at each use, since the page changes. */
export type Surroundings = {
  page: () => Page;
  /** A piece as it leaves for the clipboard. */
  packed: (id: string) => string | null;
};

const attributes = (packed: Surroundings["packed"]) => ({
  piece: {
    default: "",
    parseHTML: (element: HTMLElement) => element.getAttribute("data-piece") ?? "",
    renderHTML: ({ piece }: { piece?: unknown }) => ({ "data-piece": String(piece) }),
  },
  carried: {
    default: null,
    parseHTML: (element: HTMLElement) => element.getAttribute("data-carried"),
    renderHTML: ({ piece, carried }: { piece?: unknown; carried?: unknown }) => {
      const whole = packed(String(piece)) ?? (typeof carried === "string" ? carried : null);
      return whole === null ? {} : { "data-carried": whole };
    },
  },
});

/** A question: its own text is written in place, all else is set in the margin. */
export const questionNode = ({ page, packed }: Surroundings) =>
  EditorNode.create({
    name: "question",
    group: "block",
    content: "(paragraph | heading | bulletList | orderedList)+",
    isolating: true,
    defining: true,
    draggable: true,
    selectable: true,
    addAttributes: () => attributes(packed),
    parseHTML: () => [{ tag: "section[data-question-piece]" }],
    renderHTML: ({ HTMLAttributes }) => ["section", mergeAttributes(HTMLAttributes, { "data-question-piece": "" }), 0],
    addNodeView: () => ReactNodeViewRenderer((props) => <QuestionCard {...props} page={page} />),
  });

/** Anything of a page that is neither text nor a question. */
export const pieceNode = ({ page, packed }: Surroundings) =>
  EditorNode.create({
    name: "piece",
    group: "block",
    atom: true,
    draggable: true,
    selectable: true,
    addAttributes: () => attributes(packed),
    parseHTML: () => [
      { tag: "div[data-page-piece]" },
      {
        tag: "table",
        getAttrs: (element) => {
          const table = tableFrom(element);
          return table && { piece: "", carried: JSON.stringify({ ...table, id: "pasted-table" }) };
        },
      },
      { tag: "hr", getAttrs: () => ({ piece: "", carried: JSON.stringify({ kind: "rule", id: "pasted-rule" }) }) },
    ],
    renderHTML: ({ HTMLAttributes }) => ["div", mergeAttributes(HTMLAttributes, { "data-page-piece": "" })],
    addNodeView: () => ReactNodeViewRenderer((props) => <PieceCard {...props} page={page} />),
  });

const cardClass = (isSelected: boolean) =>
  `relative my-2 rounded-md border bg-sheet px-2.5 py-2 ${isSelected ? "border-plumage ring-1 ring-plumage" : "border-hairline"}`;

const Handle = ({ says }: { says: string }) => (
  <span
    data-drag-handle
    contentEditable={false}
    aria-hidden="true"
    title={`Drag ${says} to another place`}
    className="ml-auto cursor-grab text-muted"
  >
    <GripVertical size={14} />
  </span>
);

type CardProps = ReactNodeViewProps & { page: () => Page };

function QuestionCard({ node, page: present, editor, getPos }: CardProps) {
  const { document, look, view } = useStudy();
  const page = present();
  const id = String(node.attrs.piece);
  const question = questionsOf(page).find((each) => each.id === id);
  if (!question)
    return (
      <NodeViewWrapper className={cardClass(false)}>
        <NodeViewContent className="asks" />
      </NodeViewWrapper>
    );
  /** The card as a whole: to be copied, cut or removed by keys. */
  const select = () => {
    const position = getPos();
    if (position !== undefined) editor.chain().focus().setNodeSelection(position).run();
    look({ selected: { kind: "piece", piece: id } });
  };
  const { Sketch } = questionSettings(question.kind);
  const number = questionsOf(page).indexOf(question) + 1;
  const isSelected = view.selected.kind === "piece" && view.selected.piece === id;
  const awaiting = questionsOf(page).filter(({ when }) => when && JSON.stringify(when).includes(`"question":"${id}"`));
  return (
    <NodeViewWrapper className={cardClass(isSelected)} data-question-card={question.name}>
      <div
        contentEditable={false}
        className="flex cursor-default flex-wrap items-center gap-x-2 pr-6 text-xs"
        onClick={select}
      >
        <span className="rounded-sm bg-plumage-tint px-1.5 font-mono font-bold leading-5 text-plumage">Q{number}</span>
        <span className="font-mono leading-5">{question.name}</span>
        <span className="text-muted">{questionKind(question.kind).says}</span>
        {question.need === "must" && <span className="text-muted">must be answered</span>}
        {question.when && (
          <span className="rounded-sm bg-sheen-tint px-1.5 text-sheen">
            only if {conditionInWords(question.when, document, null)}
          </span>
        )}
        {awaiting.length > 0 && (
          <span className="rounded-sm bg-sheen-tint px-1.5 text-sheen">
            leads to {awaiting.map((each) => `Q${questionsOf(page).indexOf(each) + 1}`).join(", ")}
          </span>
        )}
        <span className="absolute right-2.5 top-2.5">
          <Handle says={`question ${number}`} />
        </span>
      </div>
      <NodeViewContent className="asks mt-0.5" />
      <div contentEditable={false} onClick={select}>
        <Sketch question={question} />
      </div>
    </NodeViewWrapper>
  );
}

function PieceCard({ node, page: present }: CardProps) {
  const { document, look, view } = useStudy();
  const id = String(node.attrs.piece);
  const piece = present().flow.find((each) => each.id === id);
  if (!piece || piece.kind === "text" || isQuestion(piece)) return <NodeViewWrapper className={cardClass(false)} />;
  const isSelected = view.selected.kind === "piece" && view.selected.piece === id;
  return (
    <NodeViewWrapper className={cardClass(isSelected)} onClick={() => look({ selected: { kind: "piece", piece: id } })}>
      <div className="flex items-center gap-2 text-xs">
        <span className="font-semibold">{pieceInWords(piece)}</span>
        <span className="truncate text-muted">{about(piece, document.media)}</span>
        <Handle says={`the ${pieceInWords(piece)}`} />
      </div>
    </NodeViewWrapper>
  );
}

export const pieceInWords = (piece: Piece): string =>
  isSet(piece)
    ? "questions from a list"
    : isQuestion(piece)
      ? questionKind(piece.kind).says
      : passagesInWords[piece.kind];

function about(piece: Exclude<Piece, { kind: "text" }>, media: { id: string; name: string }[]): string {
  if (isSet(piece)) {
    const all = piece.questions.length;
    return `${piece.name}: ${piece.take === undefined || piece.take >= all ? all : `${piece.take} of ${all}`}${piece.order === "shuffled" ? ", shuffled" : ""}`;
  }
  if (piece.kind === "site") return piece.address;
  if (piece.kind === "table") return `${piece.rows.length} × ${piece.rows[0]?.length ?? 0}`;
  if ("file" in piece) return media.find(({ id }) => id === piece.file)?.name ?? "no file yet";
  return "";
}

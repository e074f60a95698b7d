import { Extension } from "@tiptap/core";
import { EditorContent, useEditor, type Editor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useEffect, useMemo, useRef } from "react";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { refName } from "~/core/describe/words";
import { copiedPiece, setFlow } from "~/core/design/edits/page";
import type { Page, Piece } from "~/core/design/page";
import { questionIndex } from "~/core/design/questions";
import type { Ref } from "~/core/values/ref";
import { useNames } from "../bindable";
import { nameNode } from "../written-text";
import { flowFromEditor, flowKey, flowToEditor } from "./flow-document";
import { embeddedSite, markdownAsHtml } from "./pasted";
import { pieceNode, questionNode } from "./piece-nodes";
import { FlowToolbar } from "./flow-toolbar";

/** A page written as one document: texts, and questions among them. */
export function FlowEditor({ page }: { page: Page }) {
  const { document, edit, editor: study, look, view } = useStudy();
  const families = useNames(null, true);
  const latest = useRef(page);
  latest.current = page;
  /** The study and the page as they stand now: whoever types fast is ahead of what was drawn last. */
  const present = () => {
    const { document: now } = study.snapshot();
    const part = now.parts[page.id];
    return { document: now, page: part?.kind === "page" ? part : latest.current };
  };
  const names = useRef({ find: (_: string): Ref | null => null, nameOf: (_: Ref): string | null => null });
  names.current = {
    find: (name) => families.flatMap((family) => family.names).find((each) => each.name === name)?.ref ?? null,
    nameOf: (ref) => refName(ref, document, null),
  };
  const extensions = useMemo(() => {
    const around = {
      page: () => latest.current,
      packed: (id: string) => {
        const piece = latest.current.flow.find((each) => each.id === id);
        return piece ? JSON.stringify(piece) : null;
      },
    };
    return [
      StarterKit.configure({
        heading: { levels: [2] },
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        undoRedo: false,
        link: { openOnClick: false, autolink: false, protocols: ["https", "http", "mailto", "tel"] },
      }),
      nameNode((name) => names.current.find(name)),
      questionNode(around),
      pieceNode(around),
      Extension.create({
        name: "study-undo",
        addKeyboardShortcuts: () => ({
          "Mod-z": () => (study.undo(), true),
          "Mod-Shift-z": () => (study.redo(), true),
          "Mod-y": () => (study.redo(), true),
        }),
      }),
    ];
  }, [study]);
  const onSelected = (changed: Editor) => {
    const id = selectedPiece(changed);
    if (id !== null) look({ selected: { kind: "piece", piece: id } });
    else if (changed.isFocused && view.selected.kind === "piece") look({ selected: { kind: "nothing" } });
  };
  const selecting = useRef(onSelected);
  selecting.current = onSelected;
  const editor = useEditor({
    extensions,
    immediatelyRender: false,
    content: flowToEditor(page.flow, names.current.nameOf),
    editorProps: {
      attributes: {
        class: "written flow",
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": `Text of ${page.name}`,
      },
      handlePaste: (_, event) => pasted(event),
    },
    onSelectionUpdate: ({ editor: changed }) => selecting.current(changed),
    onUpdate: ({ editor: changed }) => taken(changed),
  });

  function taken(changed: Editor) {
    const { page: now, document: study } = present();
    const flow = flowFromEditor(changed.getJSON(), {
      find: names.current.find,
      before: now.flow,
      isElsewhere: (id) => {
        const found = questionIndex(study).get(id);
        return found !== undefined && found.page.id !== now.id;
      },
      copied: (piece) => copiedPiece(piece, study, newId),
      newTextId: () => newId("text"),
    });
    edit(setFlow(now.id, fresh(flow, study, now)), `flow ${now.id}`);
  }

  function pasted(event: ClipboardEvent): boolean {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    const site = embeddedSite(text);
    if (site && editor) {
      const id = newId("site");
      editor.commands.insertContent({ type: "piece", attrs: { piece: id, carried: JSON.stringify({ ...site, id }) } });
      return true;
    }
    const isPlain = (event.clipboardData?.getData("text/html") ?? "") === "";
    const html = isPlain ? markdownAsHtml(text) : null;
    if (html === null || !editor) return false;
    editor.commands.insertContent(html);
    return true;
  }

  const key = flowKey(page.flow, names.current.nameOf);
  useEffect(() => {
    if (!editor) return;
    const part = study.snapshot().document.parts[page.id];
    const flow = part?.kind === "page" ? part.flow : latest.current.flow;
    const inEditor = flowKey(
      flowFromEditor(editor.getJSON(), {
        find: names.current.find,
        before: flow,
        isElsewhere: () => false,
        copied: (piece) => piece,
        newTextId: () => "new",
      }),
      names.current.nameOf,
    );
    if (inEditor === flowKey(flow, names.current.nameOf)) return;
    const { from } = editor.state.selection;
    const piece = selectedPiece(editor);
    editor.commands.setContent(flowToEditor(flow, names.current.nameOf), { emitUpdate: false });
    if (editor.isFocused) editor.commands.setTextSelection(Math.min(from, endOf(editor, piece)));
  }, [editor, key, page.id, study]);

  return (
    <div className="flex min-h-0 flex-1 flex-col rounded-md border border-hairline bg-sheet">
      <FlowToolbar page={page} editor={editor} families={families} />
      <EditorContent
        editor={editor}
        className="min-h-0 flex-1 cursor-text overflow-auto px-4 py-3"
        onClick={(event) => {
          if (event.target === event.currentTarget) editor?.commands.focus("end");
        }}
      />
    </div>
  );
}

/** The flow with names that are free: what was pasted may bear the name of another question of the study. */
function fresh(flow: Piece[], document: Parameters<typeof copiedPiece>[1], page: Page): Piece[] {
  const there = new Set(page.flow.map(({ id }) => id));
  const taken = new Set([...questionIndex(document).values()].map(({ question }) => question.name.toLowerCase()));
  return flow.map((piece) => {
    if (there.has(piece.id) || !("name" in piece) || !taken.has(piece.name.toLowerCase())) return piece;
    const { name } = copiedPiece(piece, document, newId) as { name: string };
    return { ...piece, name };
  });
}

/** The last position in a piece, so that whoever writes in it stays there; without one, of the document. */
function endOf({ state }: Editor, piece: string | null): number {
  let end = state.doc.content.size;
  state.doc.forEach((node, offset) => {
    if (piece !== null && node.attrs.piece === piece) end = offset + node.nodeSize - 2;
  });
  return end;
}

/** The piece the selection is in or on; null where it is in text. */
function selectedPiece({ state }: Editor): string | null {
  const { selection } = state;
  if ("node" in selection) {
    const { attrs } = selection.node as { attrs: { piece?: unknown } };
    if (typeof attrs.piece === "string" && attrs.piece !== "") return attrs.piece;
  }
  for (let depth = selection.$from.depth; depth > 0; depth--) {
    const node = selection.$from.node(depth);
    if (node.type.name === "question") return String(node.attrs.piece);
  }
  return null;
}

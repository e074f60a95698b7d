import { InputRule, Node, type JSONContent } from "@tiptap/core";
import { builtInOf, isBuiltInName } from "~/core/values/built-ins";
import { refKey } from "~/core/values/uses";
import { linkAddress, type FormattedText, type Mark, type Paragraph, type Run } from "~/core/values/formatted-text";
import type { Ref } from "~/core/values/ref";

/** Finds the reference for a name as typed between double braces; null when there is none of that name. */
export type FindRef = (name: string) => Ref | null;
export type NameOf = (ref: Ref) => string | null;

const mustache = /\{\{\s*([\p{L}\p{N}_.]+)\s*\}\}/u;

/** A name in the text, kept as a reference and shown as a chip. Typing `{{name}}` makes one. */
export const nameNode = (findRef: FindRef) =>
  Node.create({
    name: "name",
    group: "inline",
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () => ({ ref: { default: "{}" }, label: { default: "" } }),
    parseHTML: () => [{ tag: "span[data-name]" }],
    renderHTML: ({ node }) => [
      "span",
      {
        "data-name": "",
        title: `{{${String(node.attrs.label)}}}`,
        class: `rounded-md bg-sheen-tint px-1 text-sheen ${isBuiltInName(String(node.attrs.label)) ? "text-[0.9em]" : "font-mono text-[0.82em]"}`,
      },
      labelInWords(String(node.attrs.label)),
    ],
    renderText: ({ node }) => `{{${String(node.attrs.label)}}}`,
    addInputRules() {
      return [
        new InputRule({
          find: new RegExp(`${mustache.source}$`, "u"),
          handler: ({ range, match, chain }) => {
            const ref = findRef(match[1] ?? "");
            if (ref)
              chain()
                .deleteRange(range)
                .insertContentAt(range.from, nameContent(ref, match[1] ?? ""))
                .run();
          },
        }),
      ];
    },
  });

const labelInWords = (label: string) => (isBuiltInName(label) ? builtInOf(label).says : label || "gone");

export const nameContent = (ref: Ref, label: string): JSONContent => ({
  type: "name",
  attrs: { ref: JSON.stringify(ref), label },
});

/** Formatted text as the editor's document. */
export function toEditor(text: FormattedText, nameOf: NameOf): JSONContent {
  const content: JSONContent[] = [];
  for (const paragraph of text) {
    const inner = paragraph.runs
      .filter((run) => !("text" in run) || run.text !== "")
      .map((run): JSONContent => ({
        ...("text" in run ? { type: "text", text: run.text } : nameContent(run.ref, nameOf(run.ref) ?? "")),
        ...marksOf(run),
      }));
    const line: JSONContent =
      paragraph.as === "heading"
        ? { type: "heading", attrs: { level: 2 }, content: inner }
        : { type: "paragraph", content: inner };
    const list = paragraph.as === "bullet" ? "bulletList" : paragraph.as === "numbered" ? "orderedList" : null;
    if (!list) content.push(line);
    else {
      const item: JSONContent = { type: "listItem", content: [line] };
      const last = content.at(-1);
      if (last?.type === list) last.content?.push(item);
      else content.push({ type: list, content: [item] });
    }
  }
  return { type: "doc", content: content.length > 0 ? content : [{ type: "paragraph" }] };
}

function marksOf(run: Run): Pick<JSONContent, "marks"> {
  const marks: NonNullable<JSONContent["marks"]> = (run.marks ?? []).map((type) => ({ type }));
  if ("text" in run && run.link !== undefined) marks.push({ type: "link", attrs: { href: run.link } });
  return marks.length > 0 ? { marks } : {};
}

/** The editor's document as formatted text. Names written in double braces, as when pasted, become references. */
export function fromEditor(document: JSONContent, findRef: FindRef): FormattedText {
  const lines = (nodes: JSONContent[], as: Paragraph["as"]): Paragraph[] =>
    nodes.flatMap((node) => {
      if (node.type === "bulletList" || node.type === "orderedList") {
        const kind = node.type === "bulletList" ? "bullet" : "numbered";
        return (node.content ?? []).flatMap((item) => lines(item.content ?? [], kind));
      }
      return [
        {
          as: node.type === "heading" ? "heading" : as,
          runs: (node.content ?? []).flatMap((inner) => runsOf(inner, findRef)),
        } satisfies Paragraph,
      ];
    });
  return lines(document.content ?? [], "paragraph");
}

function runsOf(node: JSONContent, findRef: FindRef): Run[] {
  const marks = (node.marks ?? []).flatMap(({ type }): Mark[] => (type === "bold" || type === "italic" ? [type] : []));
  const styled = marks.length > 0 ? { marks } : {};
  const href: unknown = node.marks?.find(({ type }) => type === "link")?.attrs?.href;
  if (typeof href === "string" && linkAddress.fits(href) && node.text !== undefined)
    return [{ text: node.text, ...styled, link: href }];
  if (node.type === "name") return [{ ref: JSON.parse(String(node.attrs?.ref)) as Ref, ...styled }];
  if (node.type === "hardBreak") return [{ text: "\n", ...styled }];
  const runs: Run[] = [];
  let rest = node.text ?? "";
  for (let match = mustache.exec(rest); match; match = mustache.exec(rest)) {
    const ref = findRef(match[1] ?? "");
    const end = match.index + match[0].length;
    if (ref)
      runs.push(...(match.index > 0 ? [{ text: rest.slice(0, match.index), ...styled }] : []), { ref, ...styled });
    else runs.push({ text: rest.slice(0, end), ...styled });
    rest = rest.slice(end);
  }
  return rest === "" ? runs : [...runs, { text: rest, ...styled }];
}

/** Equal exactly for formatted texts that mean the same. */
export const textKey = (text: FormattedText, nameOf: NameOf): string =>
  JSON.stringify(
    text.map(({ as, runs }) => [
      as,
      ...runs.map((run) => [
        "text" in run ? run.text : `${refKey(run.ref)} ${nameOf(run.ref) ?? ""}`,
        ...("text" in run && run.link !== undefined ? [`→ ${run.link}`] : []),
        ...(run.marks ?? []),
      ]),
    ]),
  );

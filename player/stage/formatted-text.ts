import type { FormattedText, Paragraph, Run } from "~/core/values/formatted-text";
import { valueAsText } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";

/** Puts formatted text into an element, with every name's present value in its place; without a context there are no names in it. */
export function drawFormattedText(into: HTMLElement, text: FormattedText, context: Context | null): void {
  into.replaceChildren();
  let list = null as HTMLElement | null;
  for (const paragraph of text) {
    const listTag = paragraph.as === "bullet" ? "ul" : paragraph.as === "numbered" ? "ol" : null;
    if (!listTag) {
      list = null;
      into.append(
        filled(into.ownerDocument.createElement(paragraph.as === "heading" ? "h2" : "p"), paragraph, context),
      );
      continue;
    }
    if (list?.localName !== listTag) {
      list = into.ownerDocument.createElement(listTag);
      into.append(list);
    }
    list.append(filled(into.ownerDocument.createElement("li"), paragraph, context));
  }
}

function filled(element: HTMLElement, paragraph: Paragraph, context: Context | null): HTMLElement {
  for (const run of paragraph.runs) element.append(marked(run, context, element.ownerDocument));
  if (paragraph.runs.length === 0) element.append(element.ownerDocument.createElement("br"));
  return element;
}

function marked(run: Run, context: Context | null, document: Document): Node {
  let node: Node = document.createTextNode("text" in run ? run.text : context ? valueAsText(run.ref, context) : "");
  for (const mark of run.marks ?? []) {
    const around = document.createElement(mark === "bold" ? "strong" : "em");
    around.append(node);
    node = around;
  }
  if ("text" in run && run.link !== undefined) {
    const link = document.createElement("a");
    Object.assign(link, { href: run.link, target: "_blank", rel: "noopener noreferrer" });
    link.append(node);
    return link;
  }
  return node;
}

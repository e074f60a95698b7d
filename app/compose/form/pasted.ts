import { marked } from "marked";
import type { Piece } from "~/core/design/page";
import { siteAddress } from "~/core/passages/passage";

/** Whether plain text is written as Markdown: headings, lists, marks or links. */
const looksLikeMarkdown = (text: string): boolean =>
  /^#{1,4} \S|^\s{0,3}[-*+] \S|^\s{0,3}\d{1,3}[.)] \S|\*\*\S[^*\n]{0,500}\*\*|\[[^\]\n]{1,300}\]\(https?:|^\|.{1,500}\|$/m.test(
    text,
  );

/** Markdown as HTML, which the editor reads as it reads any; null for text that is none. */
export function markdownAsHtml(text: string): string | null {
  return looksLikeMarkdown(text) ? marked.parse(text.slice(0, 200_000), { async: false, gfm: true }) : null;
}

const most = { width: 100, height: 2000 };

/** What an embedding snippet shows, as a page of another site of the same size; null for text that is none. */
export function embeddedSite(text: string): Omit<Extract<Piece, { kind: "site" }>, "id"> | null {
  if (!/^\s*<iframe\b/i.test(text) || text.length > 10_000) return null;
  const frame = new DOMParser().parseFromString(text, "text/html").querySelector("iframe");
  const source = frame?.getAttribute("src") ?? "";
  const address = source.startsWith("//") ? `https:${source}` : source;
  if (!frame || !siteAddress.fits(address)) return null;
  const size = (name: "width" | "height") => Number.parseFloat(frame.getAttribute(name) ?? "");
  const [width, height] = [size("width"), size("height")];
  const isShare = (frame.getAttribute("width") ?? "").includes("%");
  // A page of the study is about 700 pixels wide.
  const share = isShare ? width : (width / 700) * 100;
  return {
    kind: "site",
    address,
    width: Number.isFinite(share) ? Math.round(Math.max(5, Math.min(most.width, share))) : 100,
    height: Number.isFinite(height) ? Math.round(Math.max(40, Math.min(most.height, height))) : 360,
  };
}

/** A table of HTML as rows of plain cells. */
export function tableFrom(element: HTMLElement): Omit<Extract<Piece, { kind: "table" }>, "id"> | null {
  const rows = [...element.querySelectorAll("tr")]
    .slice(0, 200)
    .map((row) =>
      [...row.querySelectorAll("td, th")].slice(0, 20).map((cell) => (cell.textContent ?? "").trim().slice(0, 2000)),
    );
  const width = Math.max(0, ...rows.map(({ length }) => length));
  if (width === 0) return null;
  return {
    kind: "table",
    rows: rows.map((row) => [...row, ...Array.from({ length: width - row.length }, () => "")]),
    hasHead: element.querySelector("th") !== null,
  };
}

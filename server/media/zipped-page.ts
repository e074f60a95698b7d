import { strFromU8, strToU8 } from "fflate";
import { unzipped } from "./unzip";
import { parse, type DefaultTreeAdapterMap } from "parse5";

type Files = Map<string, Uint8Array>;
export type PageRead = { ok: true; html: Uint8Array } | { ok: false; reason: string };

const megabyte = 1024 * 1024;
const [mostUnpacked, mostFiles] = [20 * megabyte, 500];
const types: Record<string, string> = {
  css: "text/css",
  gif: "image/gif",
  jpeg: "image/jpeg",
  jpg: "image/jpeg",
  js: "text/javascript",
  json: "application/json",
  mjs: "text/javascript",
  mp3: "audio/mpeg",
  mp4: "video/mp4",
  png: "image/png",
  svg: "image/svg+xml",
  wav: "audio/wav",
  webm: "video/webm",
  webp: "image/webp",
  woff2: "font/woff2",
};

/** Whether a file is a zip, which may hold a page. */
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;

/**
 * A zipped page as one self-contained HTML file: what its `index.html` and its styles refer to by relative address is put
 * in as data. Scripts and styles that are linked are written into the page. Addresses elsewhere stay as they are; the
 * frame in which the page is shown does not let them through.
 */
export function unzippedPage(bytes: Uint8Array): PageRead {
  const unpacked = unzipped(bytes, { mostBytes: mostUnpacked, mostFiles });
  if (!unpacked.ok)
    return {
      ok: false,
      reason:
        unpacked.kind === "damaged"
          ? "The zip is damaged and cannot be unpacked."
          : unpacked.kind === "path"
            ? `The zip has a path that leaves its folder (“${unpacked.about}”).`
            : `The zip holds more than ${unpacked.about}.`,
    };
  const { files } = unpacked;
  const start = [...files.keys()]
    .filter((name) => /(^|\/)index\.html?$/i.test(name))
    .sort((a, b) => a.length - b.length)[0];
  if (!start) return { ok: false, reason: "The zip has no index.html, so it is no page." };
  const folder = start.slice(0, start.lastIndexOf("/") + 1);
  return { ok: true, html: strToU8(inlined(strFromU8(files.get(start) ?? new Uint8Array()), folder, files)) };
}

/** The file a relative address leads to; null for any other address. */
function find(address: string, folder: string, files: Files): { name: string; content: Uint8Array } | null {
  if (/^([a-z][a-z0-9+.-]*:|\/\/|#|\?)/i.test(address)) return null;
  const path: string[] = [];
  const plain = address.split(/[?#]/, 1)[0] ?? "";
  for (const step of `${plain.startsWith("/") ? "" : folder}${plain}`.split("/")) {
    if (step === "..") path.pop();
    else if (step !== "." && step !== "") path.push(decoded(step));
  }
  const name = path.join("/");
  const content = files.get(name);
  return content ? { name, content } : null;
}

function decoded(step: string): string {
  try {
    return decodeURIComponent(step);
  } catch {
    return step;
  }
}

const asData = ({ name, content }: { name: string; content: Uint8Array }): string => {
  const type = types[name.slice(name.lastIndexOf(".") + 1).toLowerCase()] ?? "application/octet-stream";
  return `data:${type};base64,${Buffer.from(content).toString("base64")}`;
};

const folderOf = (name: string) => name.slice(0, name.lastIndexOf("/") + 1);

/** Styles with the files they name by `url(…)` put in as data. */
function stylesInlined(css: string, folder: string, files: Files): string {
  let [styles, at] = ["", 0];
  for (;;) {
    const from = css.indexOf("url(", at);
    const to = from < 0 ? -1 : css.indexOf(")", from);
    if (to < 0) return styles + css.slice(at);
    const address = css.slice(from + 4, to).trim();
    const quoted = /^["']/.test(address) && address.at(-1) === address.at(0) ? address.slice(1, -1).trim() : address;
    const found = find(quoted, folder, files);
    styles += css.slice(at, from) + (found ? `url("${asData(found)}")` : css.slice(from, to + 1));
    at = to + 1;
  }
}

type Element = DefaultTreeAdapterMap["element"];
/** A stretch of the page's text, from and to counted in characters, with what stands there instead. */
type Change = { from: number; to: number; by: string };

/** The page with what it refers to written into it; all else stays as it was written. */
function inlined(html: string, folder: string, files: Files): string {
  const changes = elementsOf(parse(html, { sourceCodeLocationInfo: true }))
    .flatMap((element) => changeOf(element, html, folder, files) ?? [])
    .sort((a, b) => a.from - b.from);
  let [page, at] = ["", 0];
  for (const { from, to, by } of changes) {
    page += html.slice(at, from) + by;
    at = to;
  }
  return page + html.slice(at);
}

/** All elements of a page, in any order; however deep they are nested. */
function elementsOf(root: DefaultTreeAdapterMap["parentNode"]): Element[] {
  const elements: Element[] = [];
  const left = [root];
  for (let node = left.pop(); node; node = left.pop())
    for (const child of node.childNodes) {
      if (!("childNodes" in child)) continue;
      if ("attrs" in child) elements.push(child);
      left.push(child);
    }
  return elements;
}

const attribute = ({ attrs }: Element, name: string) => attrs.find((each) => each.name === name)?.value;

function changeOf(element: Element, html: string, folder: string, files: Files): Change | null {
  const source = element.sourceCodeLocation;
  if (!source) return null;
  const fileAt = (name: string) => find(attribute(element, name)?.trim() ?? "", folder, files);
  const whole = { from: source.startOffset, to: source.endOffset };
  switch (element.tagName) {
    case "link": {
      const file = /\bstylesheet\b/i.test(attribute(element, "rel") ?? "") ? fileAt("href") : null;
      const css = file && stylesInlined(strFromU8(file.content), folderOf(file.name), files);
      return css === null ? null : { ...whole, by: `<style>${css.replace(/<\/(style)/gi, "<\\/$1")}</style>` };
    }
    case "style": {
      const [text] = element.childNodes;
      const inside = text?.sourceCodeLocation;
      if (!inside) return null;
      const { startOffset: from, endOffset: to } = inside;
      return { from, to, by: stylesInlined(html.slice(from, to), folder, files) };
    }
    case "script": {
      const file = fileAt("src");
      const src = source.attrs?.src;
      if (!file || !src || !source.startTag) return null;
      const start =
        html.slice(source.startOffset, src.startOffset).trimEnd() +
        html.slice(src.endOffset, source.startTag.endOffset);
      // A closing tag inside the script would end it early.
      return { ...whole, by: `${start}${strFromU8(file.content).replaceAll(/<\/(script)/gi, "<\\/$1")}</script>` };
    }
    case "img":
    case "audio":
    case "video":
    case "source": {
      const file = fileAt("src");
      const src = source.attrs?.src;
      return file && src ? { from: src.startOffset, to: src.endOffset, by: `src="${asData(file)}"` } : null;
    }
    default:
      return null;
  }
}

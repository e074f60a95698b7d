import { strFromU8, strToU8, unzipSync } from "fflate";

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
  let [total, count] = [0, 0];
  let files: Map<string, Uint8Array>;
  try {
    const unpacked = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        count++;
        return total <= mostUnpacked && count <= mostFiles && !name.endsWith("/") && !name.split("/").includes("..");
      },
    });
    files = new Map(Object.entries(unpacked));
  } catch {
    return { ok: false, reason: "The zip is damaged and cannot be unpacked." };
  }
  if (total > mostUnpacked || count > mostFiles)
    return { ok: false, reason: `The zip holds more than ${mostUnpacked / megabyte} MB or ${mostFiles} files.` };
  const start = [...files.keys()]
    .filter((name) => /(^|\/)index\.html?$/i.test(name))
    .sort((a, b) => a.length - b.length)[0];
  if (!start) return { ok: false, reason: "The zip has no index.html, so it is no page." };
  const folder = start.slice(0, start.lastIndexOf("/") + 1);
  return { ok: true, html: strToU8(inlined(strFromU8(files.get(start) ?? new Uint8Array()), folder, files)) };
}

/** The file a relative address leads to; null for any other address. */
function find(
  address: string,
  folder: string,
  files: Map<string, Uint8Array>,
): { name: string; content: Uint8Array } | null {
  if (/^([a-z][a-z0-9+.-]*:|\/\/|#|\?)/i.test(address)) return null;
  const path: string[] = [];
  const plain = address.replace(/[?#].*$/, "");
  for (const step of `${plain.startsWith("/") ? "" : folder}${plain}`.split("/")) {
    if (step === "..") path.pop();
    else if (step !== "." && step !== "") path.push(decodeURIComponent(step));
  }
  const name = path.join("/");
  const content = files.get(name);
  return content ? { name, content } : null;
}

const asData = ({ name, content }: { name: string; content: Uint8Array }): string => {
  const type = types[name.slice(name.lastIndexOf(".") + 1).toLowerCase()] ?? "application/octet-stream";
  return `data:${type};base64,${Buffer.from(content).toString("base64")}`;
};

function stylesInlined(css: string, folder: string, files: Map<string, Uint8Array>): string {
  return css.replace(/url\(\s*(["']?)([^"')]+)\1\s*\)/g, (whole, _quote: string, address: string) => {
    const found = find(address.trim(), folder, files);
    return found ? `url("${asData(found)}")` : whole;
  });
}

function inlined(html: string, folder: string, files: Map<string, Uint8Array>): string {
  const folderOf = (name: string) => name.slice(0, name.lastIndexOf("/") + 1);
  return html
    .replace(/<link\b[^>]*>/gi, (tag) => {
      const address = /\bhref\s*=\s*["']([^"']+)["']/i.exec(tag)?.[1];
      const found = address && /\brel\s*=\s*["']?stylesheet/i.test(tag) ? find(address, folder, files) : null;
      return found ? `<style>${stylesInlined(strFromU8(found.content), folderOf(found.name), files)}</style>` : tag;
    })
    .replace(
      /<script\b([^>]*)\bsrc\s*=\s*["']([^"']+)["']([^>]*)>\s*<\/script>/gi,
      (tag, before: string, address: string, after: string) => {
        const found = find(address, folder, files);
        // A closing tag inside the script would end it early.
        return found
          ? `<script${`${before}${after}`.trimEnd()}>${strFromU8(found.content).replaceAll(/<\/(script)/gi, "<\\/$1")}</script>`
          : tag;
      },
    )
    .replace(
      /(<(?:img|audio|video|source)\b[^>]*\bsrc\s*=\s*)(["'])([^"']+)\2/gi,
      (whole, before: string, quote: string, address: string) => {
        const found = find(address, folder, files);
        return found ? `${before}${quote}${asData(found)}${quote}` : whole;
      },
    )
    .replace(/<style\b[^>]*>[\s\S]*?<\/style>/gi, (style) => stylesInlined(style, folder, files));
}

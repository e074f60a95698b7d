import { escaped } from "~/core/shape/escaped";
import { answerInWords, durationInWords } from "~/core/describe/words";
import type { Block } from "~/core/design/block";
import type { Scene } from "~/core/design/scene";
import type { StudyDocument } from "~/core/design/document";
import type { Context } from "~/core/values/context";
import type { MediaUrl } from "~/player/stage/context";
import "~/player/stage/drawers-all";
import { buildScene } from "~/player/stage/scene-layer";
import { makeStage, stageStyle } from "~/player/stage/stage";
import { figureLayout } from "../figure-layout";

/** Dots an inch of the bitmap, and CSS pixels an inch. */
const [dpi, cssDpi] = [300, 96];
const scale = dpi / cssDpi;

const fonts = [
  ["Newsreader Variable", "italic 400 15px"],
  ["Newsreader Variable", "400 15px"],
  ["Atkinson Hyperlegible Next Variable", "400 13px"],
  ["JetBrains Mono Variable", "400 12px"],
] as const;

/** Figure 1 as one SVG: light background, its scenes as pictures at 300 dpi, its words as text with the fonts in it. */
export async function figureSvg(
  document: StudyDocument,
  block: Block,
  context: Context,
  mediaUrl: MediaUrl,
  caption: string,
): Promise<string> {
  const steps = Math.max(1, block.scenes.length - 1);
  const layout = figureLayout(block, { width: 528 + Math.min(5, steps) * 140, height: 130 + steps * 58 });
  const lines = wrapped(`Figure 1. ${caption}`, Math.floor(layout.width / 6.8));
  const { wide, high } = layout.scene;
  const faces = await fontFaces();
  const pictures = await Promise.all(
    block.scenes.map((scene) =>
      scenePicture(scene, context, mediaUrl, document.settings.stageColor, wide, high, faces),
    ),
  );
  const height = layout.height + 16 + lines.length * 20;
  const words = block.scenes.map((scene, index) => {
    const { x, y } = layout.spots[index] ?? { x: 0, y: 0 };
    return `<text x="${x + wide + 12}" y="${y + 14}" class="name">${escaped(scene.name)}</text><text x="${x + wide + 12}" y="${y + 31}" class="time">${escaped(durationInWords(scene.lasts, document, block))}</text>`;
  });
  const images = block.scenes.map((_, index) => {
    const { x, y } = layout.spots[index] ?? { x: 0, y: 0 };
    return `<image x="${x}" y="${y}" width="${wide}" height="${high}" href="${pictures[index]}"/><rect x="${x}" y="${y}" width="${wide}" height="${high}" fill="none" stroke="#55635e"/>`;
  });
  const windows = layout.windows.map(
    ({ answer, path, label }) =>
      `<path d="${path}" fill="none" stroke="#a3460f" stroke-width="1.8"/><text x="${label.right}" y="${label.top + 13}" text-anchor="end" class="answer">${escaped(`${block.answers.length > 1 ? answer.name : "answer"}: ${answerInWords(answer, block, context)}`)}</text>`,
  );
  const title = `<tspan class="figure">Figure 1.</tspan>`;
  const text = lines.map(
    (line, index) =>
      `<text x="16" y="${layout.height + 26 + index * 20}" class="caption">${index === 0 ? title + escaped(line.slice("Figure 1.".length)) : escaped(line)}</text>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${layout.width}" height="${height}" viewBox="0 0 ${layout.width} ${height}">
<title>${escaped(`Figure 1. ${caption}`)}</title>
<style>${faces}
text { fill: #17211e; font: 13px "Atkinson Hyperlegible Next Variable", sans-serif; }
.name { font-weight: 700; } .time { font: 12px "JetBrains Mono Variable", monospace; fill: #55635e; }
.answer { font-weight: 600; fill: #a3460f; } .caption { font: 15px "Newsreader Variable", serif; } .figure { font-weight: 700; }
.axis { font: italic 15px "Newsreader Variable", serif; fill: #55635e; }</style>
<rect width="100%" height="100%" fill="#ffffff"/>
<path d="M14 18V${layout.height - 16}" stroke="#55635e" stroke-width="1.2"/><path d="M10 ${layout.height - 20}h8l-4 7z" fill="#55635e"/>
<text transform="translate(28 ${layout.height - 20}) rotate(-90)" class="axis">time</text>
${windows.map((each) => each.slice(0, each.indexOf("<text"))).join("")}
${images.join("\n")}
${windows.map((each) => each.slice(each.indexOf("<text"))).join("")}
${words.join("\n")}
${text.join("\n")}
</svg>`;
}

/** An SVG as PNG at 300 dpi, which the file says. */
export async function svgAsPng(svg: string): Promise<Blob> {
  const picture = await decoded(svg);
  const canvas = window.document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("The browser could not make a PNG of this figure.");
  return new Blob([withDpi(new Uint8Array(await blob.arrayBuffer()))], { type: "image/png" });
}

async function decoded(svg: string): Promise<HTMLImageElement> {
  const picture = new Image();
  // As data, not as a blob: only then may the canvas be read again.
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await picture.decode();
  return picture;
}

/** A scene drawn by the player's own code, as a PNG in a data address. */
async function scenePicture(
  scene: Scene,
  context: Context,
  mediaUrl: MediaUrl,
  color: string,
  wide: number,
  high: number,
  faces: string,
): Promise<string> {
  const host = window.document.createElement("div");
  host.style.cssText = `position: fixed; left: -10000px; top: 0; width: ${wide}px; height: ${high}px`;
  window.document.body.append(host);
  try {
    const layer = buildScene(window.document, scene, { context, mediaUrl, pixelsPerUnit: (high / 100) * scale });
    layer.show(true);
    makeStage(host, color).replaceChildren(layer.element);
    await layer.ready;
    const element = layer.element.cloneNode(true) as HTMLElement;
    const sources = [...layer.element.querySelectorAll<HTMLElement>("img, canvas, video")];
    const copies = [...element.querySelectorAll<HTMLElement>("img, canvas, video")];
    await Promise.all(copies.map((copy, index) => inlined(copy, sources[index])));
    const style = stageStyle.replaceAll(":host", ".stage");
    const html = new XMLSerializer().serializeToString(element);
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${wide}" height="${high}"><foreignObject width="100%" height="100%"><div xmlns="http://www.w3.org/1999/xhtml" class="stage" style="width:${wide}px;height:${high}px;background:${color}"><style>${escaped(faces + style)}</style>${html}</div></foreignObject></svg>`;
    const picture = await decoded(svg);
    const canvas = window.document.createElement("canvas");
    canvas.width = Math.round(wide * scale);
    canvas.height = Math.round(high * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    return canvas.toDataURL("image/png");
  } finally {
    host.remove();
  }
}

/** Puts what an element shows into it as data, so that it needs nothing from elsewhere. */
async function inlined(copy: HTMLElement, source: HTMLElement | undefined): Promise<void> {
  if (copy instanceof HTMLImageElement) {
    const address = copy.getAttribute("src");
    if (address) copy.src = await asData(await (await fetch(address)).blob());
    return;
  }
  const canvas = window.document.createElement("canvas");
  if (source instanceof HTMLCanvasElement) {
    canvas.width = source.width;
    canvas.height = source.height;
    if (source.width > 0) canvas.getContext("2d")?.drawImage(source, 0, 0);
  } else if (source instanceof HTMLVideoElement && source.videoWidth > 0) {
    canvas.width = source.videoWidth;
    canvas.height = source.videoHeight;
    canvas.getContext("2d")?.drawImage(source, 0, 0);
  }
  const still = window.document.createElement("img");
  still.style.cssText = `${copy.style.cssText}; position: absolute; top: 0; height: 100%; ${source instanceof HTMLVideoElement ? "left: 0; width: 100%" : ""}`;
  if (canvas.width > 0) still.src = canvas.toDataURL();
  copy.replaceWith(still);
}

const asData = (blob: Blob): Promise<string> =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.readAsDataURL(blob);
  });

/** The faces that a figure needs with their files in them: of the shipped fonts those of the Latin letters that the page itself uses, and all uploaded ones. */
async function fontFaces(): Promise<string> {
  await Promise.all(fonts.map(([family, style]) => window.document.fonts.load(`${style} "${family}"`)));
  const families: Set<string> = new Set(fonts.map(([family]) => family));
  const rules = [...window.document.styleSheets].flatMap((sheet) =>
    [...sheet.cssRules].flatMap((rule) => (rule instanceof CSSFontFaceRule ? [rule] : [])),
  );
  const wanted = rules.filter(({ style }) => {
    const family = style.getPropertyValue("font-family").replaceAll('"', "").replaceAll("'", "");
    const range = style.getPropertyValue("unicode-range");
    return family.startsWith("font-") || (families.has(family) && (range === "" || /U\+0+-0*FF/i.test(range)));
  });
  return (await Promise.all(wanted.map(faceWithFile))).join("\n");
}

const filesKnown = new Map<string, Promise<string>>();
function faceWithFile({ style, parentStyleSheet }: CSSFontFaceRule): Promise<string> {
  const address = /url\("?([^")]+)"?\)/.exec(style.getPropertyValue("src"))?.[1] ?? "";
  const url = new URL(address, parentStyleSheet?.href ?? location.href).href;
  const made =
    filesKnown.get(url) ??
    (async () => {
      const file = await fetch(url).catch(() => null);
      if (!file?.ok) return "";
      const data = await asData(await file.blob());
      return `@font-face { font-family: ${style.getPropertyValue("font-family")}; font-style: ${style.getPropertyValue("font-style") || "normal"}; font-weight: ${style.getPropertyValue("font-weight") || "400"}; src: url(${data}); }`;
    })();
  filesKnown.set(url, made);
  return made;
}

/** Text in lines of at most so many letters, broken between words. */
function wrapped(text: string, most: number): string[] {
  const lines = [""];
  for (const word of text.split(" ")) {
    const line = lines.at(-1) ?? "";
    if (line !== "" && line.length + 1 + word.length > most) lines.push(word);
    else lines[lines.length - 1] = line === "" ? word : `${line} ${word}`;
  }
  return lines;
}

/** Writes the resolution into a PNG: its pHYs chunk, in dots a metre, behind the header (PNG specification, 11.3.4.3). */
function withDpi(png: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
  const perMetre = Math.round(dpi / 0.0254);
  const chunk = new Uint8Array(21);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, 9);
  chunk.set(new TextEncoder().encode("pHYs"), 4);
  view.setUint32(8, perMetre);
  view.setUint32(12, perMetre);
  chunk[16] = 1;
  view.setUint32(17, crc32(chunk.subarray(4, 17)));
  const header = 8 + 25;
  const made = new Uint8Array(png.length + chunk.length);
  made.set(png.subarray(0, header));
  made.set(chunk, header);
  made.set(png.subarray(header), header + chunk.length);
  return made;
}

/** Cyclic redundancy check of PNG chunks (ISO 3309, polynomial 0xEDB88320). */
function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}

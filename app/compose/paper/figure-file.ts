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
import { decoded, scale } from "~/app/components/svg-as-png";
import { asData, fontFaces } from "~/app/components/font-faces";
import { figureLayout } from "../figure-layout";

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

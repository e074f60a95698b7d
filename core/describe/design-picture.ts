import { arrangementKind } from "../arrangements/registry";
import { trialsInBlock } from "../design/lookup";
import { partLabel } from "../design/part-labels";
import type { PartNode, RunningNode } from "../design/running-order";
import type { StudyDocument } from "../design/document";
import { escaped } from "../shape/escaped";
import { inList, inNumbers } from "./in-words";

const [width, left, line, gap, inset] = [720, 24, 44, 10, 20];
const ink = "#1d2321";
const muted = "#5c6562";
const rule = "#b9bfbb";

type Drawn = { svg: string; height: number };

/**
 * The running order as a drawing (SVG): each part a box with what it is, spans whose order is varied in a frame that says how. It goes
 * with the data, for whoever has no Lapwing to open the design with.
 */
export function designPicture(document: StudyDocument): string {
  const top = 78;
  const body = flow(document, document.runningOrder, left, width - 2 * left, top);
  const height = top + body.height + 24;
  const groups = document.groups.map(({ name }) => name);
  const about = groups.length > 1 ? `${inNumbers(groups.length)} groups: ${inList(groups)}` : "one group";
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="Georgia, serif">`,
    `<rect width="${width}" height="${height}" fill="#ffffff"/>`,
    text(left, 36, document.title, { size: 20 }),
    text(left, 58, about, { size: 13, fill: muted }),
    body.svg,
    "</svg>",
    "",
  ].join("\n");
}

const text = (x: number, y: number, says: string, { size = 14, fill = ink }: { size?: number; fill?: string } = {}) =>
  `<text x="${x}" y="${y}" font-size="${size}" fill="${fill}">${escaped(shortened(says, Math.floor((width - x) / (size * 0.52))))}</text>`;
const shortened = (says: string, most: number) => (says.length > most ? `${says.slice(0, most - 1)}…` : says);

function flow(document: StudyDocument, nodes: readonly RunningNode[], x: number, across: number, y: number): Drawn {
  const drawn: string[] = [];
  let at = y;
  for (const node of nodes) {
    const each =
      node.kind === "part" ? partIn(document, node, x, across, at) : bracketIn(document, node, x, across, at);
    drawn.push(each.svg);
    at += each.height + gap;
  }
  return { svg: drawn.join("\n"), height: Math.max(0, at - y - gap) };
}

function partIn(document: StudyDocument, node: PartNode, x: number, across: number, y: number): Drawn {
  const part = document.parts[node.part];
  const isBlock = part?.kind === "block";
  const groups = document.groups.filter(({ id }) => node.onlyGroups?.includes(id)).map(({ name }) => name);
  const facts = [
    isBlock ? `${counted(trialsInBlock(part))}${part.practice ? ", practice" : ""}` : "page",
    ...(groups.length > 0 ? [`only ${inList(groups)}`] : []),
    ...(node.onlySittings ? ["not in all sittings"] : []),
    ...(node.when ? ["if its condition holds"] : []),
    ...(node.aside ? ["shown by rules alone"] : []),
  ];
  return {
    svg: [
      `<rect x="${x}" y="${y}" width="${across}" height="${line}" rx="4" fill="${isBlock ? "#e3efeb" : "#ffffff"}" stroke="${rule}"/>`,
      text(x + 12, y + 19, partLabel(document, node.part)),
      text(x + 12, y + 36, facts.join(", "), { size: 12, fill: muted }),
    ].join("\n"),
    height: line,
  };
}

const counted = (trials: number) => (trials === 1 ? "one trial" : `${inNumbers(trials)} trials`);

function bracketIn(
  document: StudyDocument,
  node: Extract<RunningNode, { kind: "bracket" }>,
  x: number,
  across: number,
  y: number,
): Drawn {
  const head = 28;
  const inner = flow(document, node.nodes, x + inset, across - 2 * inset, y + head);
  const height = head + inner.height + inset / 2;
  const { length } = node.nodes;
  const how = [
    arrangementKind(node.arrange).inWords(length, Math.min(length, node.take ?? length)),
    ...(node.until ? ["again until good enough"] : []),
  ];
  return {
    svg: [
      `<rect x="${x}" y="${y}" width="${across}" height="${height}" rx="6" fill="none" stroke="${muted}" stroke-dasharray="5 4"/>`,
      text(x + 12, y + 19, how.join(", "), { size: 13, fill: muted }),
      inner.svg,
    ].join("\n"),
    height,
  };
}

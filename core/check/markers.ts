import { markedInWords } from "../describe/markers";
import { marksNothing, placedMarkers, type PlacedMarker } from "../design/all-markers";
import type { StudyDocument } from "../design/document";
import { isByte, sentValue } from "../markers/marker";
import { contextFor } from "../values/context";
import { operandValue } from "../values/resolve";
import { streamFor } from "../random/stream";
import { allRules } from "../design/all-rules";
import type { Check, Finding } from "./finding";
import { rowContexts } from "./row-contexts";

/** A marker with the values it has over all rows that are played, each once; null where it has none in some. */
export type ValuedMarker = PlacedMarker & { values: readonly (string | null)[] };

/** Which values each marker of a study has: what the list of markers and their check tell. */
export function markerValues(document: StudyDocument): ValuedMarker[] {
  const stream = streamFor(document.settings.seed, "markers");
  return placedMarkers(document).map(({ marker, block }) => {
    const contexts = block
      ? rowContexts(document, block).map(({ context }) => context)
      : [contextFor({ study: document, group: document.groups[0]?.id ?? "", participant: 1 })];
    const values = new Set(contexts.map((context) => sentValue(operandValue(marker.value, context, stream))));
    return { marker, block, values: [...values] };
  });
}

/** What is wrong with the values of markers, what they mark, and which cannot be told apart. */
export const markerProblems: Check = (document) => {
  const all = markerValues(document);
  return [...all.flatMap(ownProblems), ...alike(document, all), ...atOnce(all)];
};

const whereOf = ({ marker, block }: PlacedMarker) =>
  `marker “${marker.name}”${block ? ` of block “${block.name}”` : ""}`;
const found = (level: Finding["level"], placed: PlacedMarker, message: string): Finding => ({
  ...{ level, where: whereOf(placed), message },
  target: { part: placed.block?.id },
});

function ownProblems(placed: ValuedMarker): Finding[] {
  const { marker, block, values } = placed;
  if (marksNothing(marker, block))
    return [found("error", placed, "It marks something that is gone. Take it out, or mark something else.")];
  const wrong = values.filter((value) => value !== null && /^[-−]?\d+([.,]\d+)?$/.test(value) && !isByte(value));
  return [
    ...(values.includes(null)
      ? [found("warning", placed, "It has no value in some trials, where nothing is sent. Give it one.")]
      : []),
    ...(wrong.includes("0")
      ? [found("error", placed, "Its value is 0, which is the line at rest. Choose a number from 1 to 255.")]
      : []),
    ...(wrong.some((value) => value !== "0")
      ? [
          found(
            "warning",
            placed,
            `Its value ${wrong.find((value) => value !== "0") ?? ""} is no whole number from 1 to 255, so that it goes out as a text and not as a byte.`,
          ),
        ]
      : []),
  ];
}

/** Values that stand for more than one thing, and those that rules send, too. */
function alike(document: StudyDocument, all: readonly ValuedMarker[]): Finding[] {
  const byRules = new Set(
    allRules(document).flatMap((rule) => rule.do.flatMap((each) => (each.do === "marker" ? [each.marker] : []))),
  );
  const known = new Map<string, ValuedMarker>();
  return all.flatMap((placed) => {
    const same = placed.values.flatMap((value) => (value !== null && known.has(value) ? [value] : []));
    const ofRule = placed.values.find((value) => value !== null && byRules.has(value));
    for (const value of placed.values) if (value !== null && !known.has(value)) known.set(value, placed);
    const [first] = same;
    if (first !== undefined)
      return [
        found(
          "warning",
          placed,
          `Its value ${first} is also that of ${whereOf(known.get(first) as ValuedMarker)}, so that the two cannot be told apart.`,
        ),
      ];
    return ofRule === undefined || ofRule === null
      ? []
      : [found("warning", placed, `Its value ${ofRule} is also sent by a rule, so that the two cannot be told apart.`)];
  });
}

/** Markers that go out in the same frame: on a line with pulses the later one covers the one before. */
function atOnce(all: readonly ValuedMarker[]): Finding[] {
  const seen = new Map<string, ValuedMarker>();
  return all.flatMap((placed) => {
    const moment = momentOf(placed);
    const before = seen.get(moment);
    if (!before) seen.set(moment, placed);
    return before
      ? [
          found(
            "warning",
            placed,
            `It goes out in the same frame as ${whereOf(before)} (${markedInWords(before.marker, before.block)}): on a line of bytes the later one covers the other within its pulse. Keep one of the two.`,
          ),
        ]
      : [];
  });
}

/** A name of the moment a marker goes out at, the same for what happens in one frame. */
function momentOf({ marker, block }: ValuedMarker): string {
  const { at } = marker;
  const own = block?.id ?? "";
  const begin = `${own} ${block?.scenes[0]?.id ?? ""}`;
  switch (at.on) {
    case "trial-begins":
      return begin;
    case "scene-begins":
      return `${own} ${at.scene}`;
    case "item-begins": {
      const scene = block?.scenes.find(({ items }) => items.some(({ id }) => id === at.item));
      const item = scene?.items.find(({ id }) => id === at.item);
      return item?.begins === undefined ? `${own} ${scene?.id ?? ""}` : `${own} ${at.item} by itself`;
    }
    case "answer":
      return `${own} ${at.answer} ${at.how}`;
    default:
      return `${own} ${at.on}`;
  }
}

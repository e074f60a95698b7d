import { freshAllocation } from "../design/allocation";
import { newKeys } from "../devices/keys/keys";
import { newParticipation } from "../design/participation";
import { newShapeItem } from "../items/shape/shape";
import { newTextItem } from "../items/text/text";
import type { NewId } from "../values/ref";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { currentVersion } from "../design/version";

/** Times of the flashes, in milliseconds. */
const flashes = [50, 100, 150, 200, 300, 500];

/**
 * A study of one block for testing a computer: flashes of all lengths after gaps of random length, and in every fourth
 * trial a ring at which a key is pressed. It is played by the same code as any other.
 */
export function selfTestStudy(seed: string): StudyDocument {
  let count = 0;
  const id: NewId = (prefix) => `${prefix}-${++count}`;
  const [length, asked] = [id("column"), id("column")];
  const disc = { ...newShapeItem(id, "disc"), form: "ellipse" as const, size: { w: 30, h: 30 }, fill: "#ffffff" };
  const ring = {
    ...newShapeItem(id, "ring"),
    form: "ring" as const,
    gap: 0,
    size: { w: 20, h: 20 },
    fill: "#e8c15a",
    lineWidth: 3,
  };
  const word = {
    ...newTextItem(id, "word", "Press the space bar"),
    at: { x: 0, y: -25 },
    color: "#ffffff",
    fontSize: 5,
  };
  const press = id("scene");
  const block: Block = {
    kind: "block",
    id: id("block"),
    name: "Flashes and keys",
    table: {
      columns: [
        { id: length, name: "length", type: "number", factor: true },
        { id: asked, name: "asked", type: "yes-no", factor: false },
      ],
      rows: flashes.flatMap((ms) =>
        [false, false, false, true].map((isAsked) => ({
          id: id("row"),
          copies: 1,
          cells: { [length]: ms, [asked]: isAsked },
        })),
      ),
    },
    scenes: [
      { id: id("scene"), name: "gap", lasts: { kind: "random-ms", from: 100, to: 300, step: 50 }, items: [] },
      { id: id("scene"), name: "flash", lasts: { kind: "ms", ms: { from: { column: length } } }, items: [disc] },
      {
        id: press,
        name: "press",
        lasts: { kind: "until-answer", atMostMs: 2000 },
        items: [ring, word],
        when: { left: { from: { column: asked } }, is: "=", right: true },
      },
    ],
    answers: [
      {
        id: id("answer"),
        name: "answer",
        opensWith: press,
        closesWith: press,
        by: [{ ...newKeys(["Space"]) }],
        match: "exact",
        counts: "first",
        onAnswer: "move-on",
        onEarly: "go-on",
      },
    ],
    order: { method: "shuffled", passes: 20, limits: [] },
    practice: false,
    rules: [],
    notes: "",
  };
  return {
    format: "lapwing-study",
    version: currentVersion,
    title: "Self-test",
    description: "",
    language: "en",
    groups: [{ id: id("group"), name: "Everyone" }],
    groupValues: [],
    variables: [],
    rules: [],
    pools: [],
    services: [],
    sittings: [],
    scores: [],
    runningOrder: [{ kind: "part", part: block.id }],
    parts: { [block.id]: block },
    media: [],
    allocation: freshAllocation,
    settings: {
      seed,
      stageColor: "#000000",
      textColor: "#ffffff",
      fullScreen: true,
      progressBar: false,
      participation: newParticipation(),
    },
  };
}

/** Where a white square for a light sensor lights up with each flash, and its side in CSS pixels. */
export type Square = { corner: "upper-left" | "upper-right" | "lower-left" | "lower-right"; side: number };

/** What a computer was found capable of. Times in milliseconds. */
export type ComputerResult = {
  browser: string;
  refreshHz: number;
  refreshSd: number;
  window: string;
  isolated: boolean;
  scenes: number;
  exact: number;
  late: number;
  worstFrames: number;
  keys: number;
  /** From the key event's own time to the script that takes it: median and 99th percentile; null without keys. */
  keyDelay: { median: number; p99: number } | null;
  square: Square | null;
  verdict: string[];
};

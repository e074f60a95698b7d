import { newTextItem } from "../../items/text/text";
import type { Scene } from "../scene";
import { blockOfTrials, feedback, filled, fixation, keyAnswer, ref, said, shownText, type Starter } from "./starter";

const market = ["figs", "leeks", "plums", "beans", "pears", "chard", "dates", "limes"];

export const list: Starter = {
  id: "list",
  title: "The shopping list",
  measures: "Remember a list: how fast and how surely words are known again after lists of two or four.",
  make: (newId) => {
    const cells = [2, 4].flatMap((length) =>
      [true, false].flatMap((old) => [0, 1].map((turn) => ({ length, old, from: turn * 3 }))),
    );
    const words = (from: number, length: number) =>
      Array.from({ length }, (_, index) => market[(from + index) % market.length] ?? "");
    const length = filled(
      newId,
      "length",
      "number",
      true,
      cells.map((each) => each.length),
    );
    const old = filled(
      newId,
      "old",
      "yes-no",
      true,
      cells.map((each) => each.old),
    );
    const shown = filled(
      newId,
      "list",
      "text",
      false,
      cells.map((each) => words(each.from, each.length).join("   ")),
    );
    const probe = filled(
      newId,
      "probe",
      "text",
      false,
      cells.map((each) => words(each.from, each.length + 1)[each.old ? 1 : each.length] ?? ""),
    );
    const key = filled(
      newId,
      "key",
      "text",
      false,
      cells.map((each) => (each.old ? "j" : "f")),
    );
    const learn: Scene = {
      id: newId("scene"),
      name: "list",
      lasts: { kind: "ms", ms: 2500 },
      items: [{ ...shownText(newId, "words", shown, 7), width: 120 }],
    };
    const pause: Scene = {
      id: newId("scene"),
      name: "pause",
      lasts: { kind: "ms", ms: 1500 },
      items: [newTextItem(newId, "dots", "…")],
    };
    const ask: Scene = {
      id: newId("scene"),
      name: "probe",
      lasts: { kind: "until-answer", atMostMs: 4000 },
      items: [
        shownText(newId, "word", probe),
        { ...said(newId, "hint", "F not on the list      J on the list", 3.5), at: { x: 0, y: -38 } },
      ],
    };
    return {
      instructions: [
        "You see a short shopping list. Keep it in mind. Then one word appears.",
        "Press J when it was on the list and F when it was not.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Lists",
          [length, old, shown, probe, key],
          2,
          [fixation(newId), learn, pause, ask, feedback(newId)],
          [keyAnswer(newId, ask, ["f", "j"], ref(key))],
        ),
      ],
    };
  },
};

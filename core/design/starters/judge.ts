import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, filled, fixation, said, shownText, type Starter } from "./starter";

export const judge: Starter = {
  id: "judge",
  title: "Sounds of the quay",
  measures: "Judge on a scale: how much something is felt to be, set with a slider, for words of several kinds.",
  make: (newId) => {
    const words: [string, string][] = [
      ["gulls", "bird"],
      ["waves", "water"],
      ["a winch", "work"],
      ["a foghorn", "work"],
      ["rain on a deck", "water"],
      ["terns", "bird"],
    ];
    const sound = filled(
      newId,
      "sound",
      "text",
      false,
      words.map(([word]) => word),
    );
    const kind = filled(
      newId,
      "kind",
      "text",
      true,
      words.map(([, each]) => each),
    );
    const slider = {
      ...newItem(newId, "slider", "scale"),
      at: { x: 0, y: -8 },
      size: { w: 90, h: 14 },
      leftLabel: "not at all",
      rightLabel: "very much",
    } as Item;
    const button = {
      ...newItem(newId, "button", "continue"),
      at: { x: 0, y: -34 },
      label: "Continue",
    } as Item;
    const ask: Scene = {
      id: newId("scene"),
      name: "judgement",
      lasts: { kind: "until-answer", atMostMs: 60_000 },
      items: [
        { ...said(newId, "question", "How soothing is the sound of", 5), at: { x: 0, y: 32 } },
        { ...shownText(newId, "sound", sound), at: { x: 0, y: 20 } },
        slider,
        button,
      ],
    };
    return {
      instructions: ["You read the names of sounds. Set the mark where you feel it belongs, then press the button."],
      blocks: [
        blockOfTrials(
          newId,
          "Sounds",
          [sound, kind],
          1,
          [fixation(newId), ask],
          [
            {
              id: newId("answer"),
              name: "answer",
              opensWith: ask.id,
              closesWith: ask.id,
              by: [{ device: "slider", item: slider.id, confirm: button.id }],
              match: "number",
              counts: "first",
              onAnswer: "move-on",
              onEarly: "go-on",
            },
          ],
        ),
      ],
    };
  },
};

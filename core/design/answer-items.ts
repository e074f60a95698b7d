import type { AnswerSpec, Block, Id } from "./types";

/** The items an answer is given by, each called what it takes. */
export const itemsOfAnswer = ({ by }: AnswerSpec): { item: Id; takes: string }[] =>
  by.flatMap((device) => {
    if (device.device === "keys") return [];
    if (device.device === "pointer")
      return device.targets.flatMap((target) => ("item" in target ? [{ item: target.item, takes: "an item" }] : []));
    const takes = { typed: "an entry", slider: "a slider", web: "a web page" }[device.device];
    return [
      { item: device.item, takes },
      ...(device.device !== "web" && device.confirm !== null ? [{ item: device.confirm, takes: "a button" }] : []),
    ];
  });

/** The answers of a block that are given by an item, in words. */
export const answersGivenBy = (block: Block, item: Id): string[] =>
  block.answers
    .filter((answer) => itemsOfAnswer(answer).some((each) => each.item === item))
    .map(({ name }) => `the answer “${name}”`);

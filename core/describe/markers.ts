import type { Block } from "../design/block";
import { itemsIn } from "../design/lookup";
import type { AnyMarker } from "../markers/marker";

const nameOf = (named: readonly { id: string; name: string }[], id: string): string =>
  `“${named.find((each) => each.id === id)?.name ?? "something that is gone"}”`;
const how = { given: "is given", right: "is given and right", wrong: "is given and wrong" };

/** What a marker marks: “scene “boats” begins”. */
export function markedInWords({ at }: Pick<AnyMarker, "at">, block: Block | null): string {
  switch (at.on) {
    case "session-begins":
      return "the session begins";
    case "session-ends":
      return "the session ends";
    case "block-begins":
      return "the block begins";
    case "block-ends":
      return "the block ends";
    case "trial-begins":
      return "a trial begins";
    case "trial-ends":
      return "a trial ends";
    case "scene-begins":
      return `scene ${nameOf(block?.scenes ?? [], at.scene)} begins`;
    case "item-begins":
      return `item ${nameOf(block ? itemsIn(block) : [], at.item)} comes on`;
    case "answer":
      return `answer ${nameOf(block?.answers ?? [], at.answer)} ${how[at.how]}`;
  }
}

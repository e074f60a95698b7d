import { describe, expect, it } from "vitest";
import { countedIds, plainStudy } from "~/tests/support/studies";
import { newPage } from "../page";
import { addPart } from "./parts";
import { applyEdit, together } from "./edit";
import { addGroup, addGroupValue, removeGroup, renameGroupValue, setGroupValue } from "./study";

describe("edits of the study as a whole", () => {
  it("rename a group value and text with its name follows", () => {
    const value = { id: "v", name: "left_key", type: "key" as const, perGroup: { [plainStudy().groups[0]!.id]: "f" } };
    const page = {
      ...newPage(countedIds(), "How"),
      id: "how",
      body: [{ as: "paragraph" as const, runs: [{ text: "Press " }, { ref: { groupValue: "v" } }] }],
    };
    const { document } = applyEdit(
      plainStudy(),
      together(addGroupValue(value), addPart(page, null), renameGroupValue("v", "port_key")),
    );
    expect(document.parts["how"]).toEqual(page);
    expect(document.groupValues[0]?.name).toBe("port_key");
  });

  it("give a new group the first group's values, and take them away with it", () => {
    const first = plainStudy().groups[0]!.id;
    const value = { id: "v", name: "left_key", type: "key" as const, perGroup: { [first]: "f" } };
    const two = applyEdit(
      plainStudy(),
      together(addGroupValue(value), addGroup({ id: "g2", name: "Two" }), setGroupValue("v", "g2", "k")),
    ).document;
    expect(two.groupValues[0]?.perGroup).toEqual({ [first]: "f", g2: "k" });
    expect(applyEdit(two, removeGroup("g2")).document.groupValues[0]?.perGroup).toEqual({ [first]: "f" });
  });

  it("keep the last group", () => {
    const document = plainStudy();
    expect(applyEdit(document, removeGroup(document.groups[0]!.id)).document).toEqual(document);
  });
});

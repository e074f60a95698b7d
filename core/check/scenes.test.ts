import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { newImageItem } from "../items/image/image";
import { newItem } from "../items/item";
import { preflight } from "./preflight";

describe("scenes", () => {
  it.each<Flaw>([
    [
      "a scene that never ends",
      (block) => {
        block.scenes[0]!.lasts = { kind: "until-answer" };
      },
      /scene 1 “fixation”: It waits for an answer, but no answer window covers it/,
    ],
    [
      "a scene that waits where answers stay",
      (block) => {
        block.scenes[1]!.lasts = { kind: "until-answer" };
        block.answers[0]!.onAnswer = "stay";
      },
      /would never end/,
    ],
    [
      "a picture that is missing",
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "gone")),
      /item “bird”: Its picture “gone” is missing/,
    ],
    [
      "a picture not chosen yet",
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "")),
      /no picture yet/,
    ],
    [
      "a picture missing in one row",
      (block) => {
        block.table.columns.push({ id: "c", name: "bird", type: "image", factor: false });
        block.table.rows[1]!.cells["c"] = "gone";
        block.scenes[1]!.items.push(newImageItem(() => "i", "bird", ""));
        (block.scenes[1]!.items[1] as { picture: unknown }).picture = { from: { column: "c" } };
      },
      /In row 1 its picture is an empty cell/,
    ],
    [
      "a duration that is a word",
      (block) => void (block.scenes[0]!.lasts = { kind: "ms", ms: { from: { column: "column-2" } } }),
      /In row 1 its duration is “gull”/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));

  it("asks for an address of a web page, and warns that it needs the network", () => {
    const web = (address: string | { from: { column: string } }) =>
      withBlock(plainStudy(), (block) => {
        const item = newItem(() => "i", "web", "dial");
        if (item.kind === "web") item.page = { from: "address", address };
        block.scenes[1]!.items.push(item);
      });
    expect(linesOf(web("")).join()).toMatch(/no page yet/);
    expect(linesOf(web("javascript:alert(1)")).join()).toMatch(/no address of a web page/);
    expect(linesOf(web({ from: { column: "column-2" } })).join()).toMatch(/In row 1 its address is no address/);
    expect(linesOf(web("https://dial.example/turn"))).toEqual([]);
    expect(preflight(web("https://dial.example/turn")).map(({ message }) => message)).toContainEqual(
      expect.stringMatching(/needs the network in the middle of a session/),
    );
  });
});

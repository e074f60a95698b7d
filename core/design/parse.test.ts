import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { newImageItem } from "../items/image/image";
import { migrate, migrations } from "./migrations/registry";
import { parseStudy, parseStudyText } from "./parse";
import { currentVersion } from "./version";
import type { StudyDocument } from "./document";

const mistakesOf = (value: unknown): string[] => {
  const parsed = parseStudy(value);
  return parsed.ok ? [] : parsed.mistakes;
};
/** A new study with one block named as in the example, changed by hand. */
const near = (change: Parameters<typeof withBlock>[1]): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    block.name = "Near waders";
    change(block, document);
  });

describe("reading a study file", () => {
  it("takes what the defaults make, also through JSON", () => {
    const document = plainStudy();
    expect(parseStudyText(JSON.stringify(document))).toEqual({ ok: true, document });
  });

  it("says the place of a mistake in words and what to do", () => {
    const document = near(
      ({ scenes }) =>
        void scenes[1]!.items.push({
          ...newImageItem((prefix) => `${prefix}-x`, "left bird", ""),
          size: { w: 0, h: 5 },
        }),
    );
    expect(mistakesOf(document)).toEqual([
      "block “Near waders”, scene 2, item “left bird”: size, width must be greater than 0.",
    ]);
  });

  it("lists every mistake at once", () => {
    const document = near((block, whole) => {
      whole.settings.stageColor = "blue";
      block.table.rows[1]!.copies = -1;
      block.scenes[0]!.lasts = { kind: "random-ms", from: 800, to: 400, step: 50 };
      (block.answers[0] as { match: string }).match = "roughly";
    });
    const mistakes = mistakesOf(document);
    expect(mistakes).toHaveLength(4);
    expect(mistakes.join("\n")).toMatch(/stage colour must be a colour/);
    expect(mistakes.join("\n")).toMatch(/block “Near waders”, row 2: copies must be 0 or more/);
    expect(mistakes.join("\n")).toMatch(/scene 1: duration, to must not be smaller/);
    expect(mistakes.join("\n")).toMatch(/answer “answer”: comparison must be one of exact, ignore-case, number/);
  });

  it("names a field it does not know, rather than dropping it", () => {
    const document = { ...plainStudy(), timeLimit: 5 };
    expect(mistakesOf(document)).toEqual(["the study has a field Lapwing does not know: timeLimit. Remove it."]);
  });

  it.each([
    [
      "an unknown kind of item",
      (d: StudyDocument) => void ((firstBlock(d).scenes[1]!.items[0] as { kind: string }).kind = "hologram"),
      /item “word” must have a kind that is one of text, image, shape/,
    ],
    [
      "a window that names no scene",
      (d: StudyDocument) => void (firstBlock(d).answers[0]!.opensWith = "gone"),
      /opening scene names the scene “gone”, which the block does not have/,
    ],
    [
      "a running order that names no part",
      (d: StudyDocument) => void d.runningOrder.push({ kind: "part", part: "gone" }),
      /names the part “gone”/,
    ],
    [
      "a part outside the running order",
      (d: StudyDocument) => void d.runningOrder.pop(),
      /is not in the running order/,
    ],
    [
      "a name used twice",
      (d: StudyDocument) => void (firstBlock(d).table.columns[1]!.name = "WORD"),
      /each name is used once|is taken/,
    ],
    [
      "a built-in family as name",
      (d: StudyDocument) => void (firstBlock(d).table.columns[1]!.name = "last"),
      /family of built-in names/,
    ],
    [
      "an id used twice",
      (d: StudyDocument) => void (firstBlock(d).table.rows[1]!.id = firstBlock(d).table.rows[0]!.id),
      /is used twice/,
    ],
    [
      "a group without its value",
      (d: StudyDocument) => void d.groupValues.push({ id: "v", name: "left_key", type: "key", perGroup: {} }),
      /has no value for group “Everyone”/,
    ],
    [
      "a built-in name that does not exist",
      (d: StudyDocument) => void (firstBlock(d).answers[0]!.right = { from: { builtIn: "last.mood" } }),
      /“last.mood”, which does not exist/,
    ],
  ])("refuses %s", (_, change, message) => {
    const document = plainStudy();
    change(document);
    expect(mistakesOf(document).join("\n")).toMatch(message);
  });

  it("refuses text that is no JSON, a foreign file and a newer version, each with a reason", () => {
    expect(parseStudyText("{")).toMatchObject({ ok: false, mistakes: [expect.stringMatching(/not JSON/)] });
    expect(parseStudyText('{"a":1}')).toMatchObject({
      ok: false,
      mistakes: [expect.stringMatching(/not a Lapwing study/)],
    });
    expect(parseStudy({ ...plainStudy(), version: 9 })).toMatchObject({
      ok: false,
      mistakes: [expect.stringMatching(/newer Lapwing \(format version 9/)],
    });
  });

  it("never throws, whatever a field holds", () => {
    const document = plainStudy() as unknown as Record<string, unknown>;
    for (const key of Object.keys(document))
      for (const value of [null, 7, "x", [], {}, true, [null], { a: null }])
        expect(typeof parseStudy({ ...document, [key]: value }).ok).toBe("boolean");
  });
});

describe("migrations", () => {
  it("cover every version from the first to the present", () => {
    expect(migrations.map(({ from }) => from)).toEqual(
      Array.from({ length: currentVersion - 1 }, (_, index) => index + 1),
    );
  });

  it("are applied in order, each on what the one before made", () => {
    const steps = [
      { from: 2, describe: "doubles", up: (d: Record<string, unknown>) => ({ ...d, count: Number(d.count) * 2 }) },
      { from: 1, describe: "adds one", up: (d: Record<string, unknown>) => ({ ...d, count: Number(d.count) + 1 }) },
    ];
    expect(migrate({ count: 3 }, 1, steps, 3)).toEqual({ count: 8, version: 3 });
    expect(() => migrate({}, 1, [], 2)).toThrow(/No migration from version 1/);
  });
});

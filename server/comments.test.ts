import { describe, expect, it } from "vitest";
import { freshOwner, freshStore } from "../tests/support/store";
import { plainStudy } from "../tests/support/studies";
import { aboutInWords } from "../core/describe/about";
import { blocksInOrder } from "../core/design/lookup";
import { addComment, commentsOn, openComments, resolveComment } from "./comments";
import { leave, present } from "./presence";
import { addStudy } from "./studies";

const whole = { kind: "study", part: null, id: null } as const;

describe("comments on a design", () => {
  it("stand with what they are about and their answers, and are open until somebody resolves them", async () => {
    const store = await freshStore();
    const [ann, ben] = [await freshOwner(store, "ann@x.example"), await freshOwner(store, "ben@x.example")];
    const study = await addStudy(store, ann, plainStudy());
    const say = (account: string, text: string, answers: string | null = null) =>
      addComment(store, study.id, { account, about: whole, answers, text });
    expect(await say(ann, "Too short?")).toBeNull();
    const [first] = await commentsOn(store, study.id, ann);
    expect(await say(ben, "Longer.", first?.id)).toBeNull();
    expect(await say(ben, "To nothing.", "comment-gone")).toMatch("is gone");
    expect(await commentsOn(store, study.id, ben)).toMatchObject([
      { text: "Too short?", isMine: false, resolved: null, answers: [{ text: "Longer." }] },
    ]);
    expect(await openComments(store, study.id)).toBe(1);
    await resolveComment(store, study.id, first?.id ?? "", "Ben");
    expect(await openComments(store, study.id)).toBe(0);
    expect((await commentsOn(store, study.id, ann))[0]?.resolved?.by).toBe("Ben");
    await resolveComment(store, study.id, first?.id ?? "", null);
    expect(await openComments(store, study.id)).toBe(1);
    // Of another study nothing is settled from here.
    const other = await addStudy(store, ben, plainStudy());
    await resolveComment(store, other.id, first?.id ?? "", "Ben");
    expect(await openComments(store, study.id)).toBe(1);
  });

  it("say what they are about by its name now, and that it is gone where it is", () => {
    const document = plainStudy();
    const [block] = blocksInOrder(document);
    if (!block) throw new Error("no block");
    const of = { part: block.id };
    expect(aboutInWords(document, whole)).toBe("The study");
    expect(aboutInWords(document, { kind: "part", ...of, id: null })).toBe(block.name);
    expect(aboutInWords(document, { kind: "scene", ...of, id: block.scenes[0]?.id ?? "" })).toBe(
      `Scene ${block.scenes[0]?.name}, ${block.name}`,
    );
    expect(aboutInWords(document, { kind: "row", ...of, id: block.table.rows[1]?.id ?? "" })).toBe(
      `Row 2, ${block.name}`,
    );
    expect(aboutInWords(document, { kind: "row", ...of, id: "gone" })).toBeNull();
    expect(aboutInWords(document, { kind: "part", part: "gone", id: null })).toBeNull();
  });
});

describe("who is here", () => {
  it("is who was heard of lately, each once, and not oneself", () => {
    const at = (account: string, name: string, part: string | null = null) => ({
      account,
      name,
      section: "plan",
      part,
    });
    expect(present("s", "a1", at("a", "Ann"), 0)).toEqual([]);
    expect(present("s", "b1", at("b", "Ben"), 1000).map(({ name }) => name)).toEqual(["Ann"]);
    expect(present("s", "a2", at("a", "Ann", "boats"), 2000).map(({ name }) => name)).toEqual(["Ben"]);
    expect(present("s", "b1", at("b", "Ben"), 3000)).toEqual([{ name: "Ann", section: "plan", part: "boats" }]);
    expect(present("another", "b1", at("b", "Ben"), 3000)).toEqual([]);
    leave("s", "a2");
    expect(present("s", "b1", at("b", "Ben"), 4000)).toEqual([{ name: "Ann", section: "plan", part: null }]);
    expect(present("s", "b1", at("b", "Ben"), 40_000)).toEqual([]);
  });
});

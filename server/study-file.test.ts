import { strToU8, unzipSync, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { freshOwner, freshStore } from "~/tests/support/store";
import { currentVersion } from "~/core/design/version";
import { plainStudy } from "~/tests/support/studies";
import { storeMedia } from "./media/study-media";
import { streamOf } from "./export/written";
import { exportStudy, importStudy } from "./study-file";
import { readStudyFile } from "./study-file-reading";
import { addStudy, type Study } from "./studies";
import { listStudies } from "./study-list";

const svg = strToU8('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"><path d="M0 0h4v3z"/></svg>');
const bad = strToU8('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"><script>1</script></svg>');
const json = (document: unknown) => strToU8(JSON.stringify(document));

async function withPicture() {
  const store = await freshStore();
  const owner = await freshOwner(store);
  const study: Study = await addStudy(store, owner, plainStudy());
  const stored = await storeMedia(store, study.id, "tern.svg", svg);
  if (!stored.ok) throw new Error(stored.reason);
  return { store, owner, study: { ...study, document: { ...study.document, media: [stored.file] } } };
}

/** The zip with another unpacked length written for its last file (APPNOTE 4.3.12: 24 bytes into its central header). */
function saidToUnpackTo(length: number, zip: Uint8Array): Uint8Array {
  const changed = Buffer.from(zip);
  changed.writeUInt32LE(length, changed.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2])) + 24);
  return new Uint8Array(changed);
}

const exported = async (...of: Parameters<typeof exportStudy>) =>
  new Uint8Array(await new Response(streamOf(exportStudy(...of))).arrayBuffer());

describe("study files", () => {
  it("bring a study with its pictures to another Lapwing unchanged", async () => {
    const { store, study } = await withPicture();
    const file = await exported(store, study);
    const other = await freshStore();
    const imported = await importStudy(other, await freshOwner(other), file);
    expect(imported.ok && imported.study.document).toEqual(study.document);
    expect(imported.ok && (await exported(other, imported.study))).toEqual(file);
  });

  it("are easy to read for a person who unpacks them", async () => {
    const { store, study } = await withPicture();
    const files = unzipSync(await exported(store, study));
    expect(Object.keys(files)).toEqual(["study.lapwing.json", `media/${study.document.media[0]?.sha256}`]);
    expect(new TextDecoder().decode(files["study.lapwing.json"])).toContain('\n  "title": "Harbour lights"');
  });

  const document = () => ({
    ...plainStudy(),
    media: [
      { id: "m", name: "tern.svg", sha256: "0".repeat(64), mime: "image/svg+xml", bytes: 5, width: 4, height: 3 },
    ],
  });
  it.each([
    [
      "a path that leaves the folder",
      () => zipSync({ "study.lapwing.json": json(plainStudy()), "../../etc/x": svg }),
      /leaves its folder/,
    ],
    ["a path from the root", () => zipSync({ "/etc/x": svg }), /leaves its folder/],
    ["no study", () => zipSync({ "notes.txt": svg }), /no study.lapwing.json/],
    ["a damaged zip", () => zipSync({ "study.lapwing.json": json(plainStudy()) }).slice(0, 90), /damaged/],
    [
      "a zip that unpacks to far too much",
      () =>
        saidToUnpackTo(
          410 * 1024 * 1024,
          zipSync({ "study.lapwing.json": json(plainStudy()), bomb: new Uint8Array(9) }),
        ),
      /more than 20 MB/,
    ],
    [
      "a missing picture",
      () => zipSync({ "study.lapwing.json": json(document()) }),
      /“tern.svg”: its content is not in the file/,
    ],
    [
      "an SVG with a script",
      () => zipSync({ "study.lapwing.json": json(document()), [`media/${"0".repeat(64)}`]: bad }),
      /“tern.svg”: The SVG is refused because it holds a script/,
    ],
    [
      "a picture that is none",
      () => zipSync({ "study.lapwing.json": json(document()), [`media/${"0".repeat(64)}`]: strToU8("hello") }),
      /not a file Lapwing can show/,
    ],
    [
      "a picture other than the one exported",
      () => zipSync({ "study.lapwing.json": json(document()), [`media/${"0".repeat(64)}`]: svg }),
      /changed after the export/,
    ],
    ["a newer version", () => json({ ...plainStudy(), version: currentVersion + 1 }), /newer Lapwing/],
  ])("with %s are refused with a reason, and nothing is imported", async (_, make, reason) => {
    const store = await freshStore();
    const owner = await freshOwner(store);
    const imported = await importStudy(store, owner, make());
    expect(imported.ok ? "" : imported.mistakes.join("\n")).toMatch(reason);
    expect(await listStudies(store, owner)).toEqual([]);
    expect(await store.db.selectFrom("study_media").selectAll().execute()).toEqual([]);
  });

  it("may be plain JSON where the study has no pictures", async () =>
    expect((await readStudyFile(json(plainStudy()))).ok).toBe(true));
});

import { strFromU8, strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { checkMedia } from "./content";
import { freshOwner, freshStore } from "~/tests/support/store";
import { readPage, storeMedia } from "./study-media";
import { createStudy } from "../studies";
import { unzippedPage } from "./zipped-page";

const zip = (files: Record<string, string>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));
const html = (files: Record<string, string>): string => {
  const read = unzippedPage(zip(files));
  return read.ok ? strFromU8(read.html) : read.reason;
};

describe("a zipped page", () => {
  it("becomes one file with its scripts, styles and pictures in it, wherever its folder lies", async () => {
    const page = html({
      "dial/index.html":
        '<!doctype html><link rel="stylesheet" href="css/dial.css"><img src="./hand.svg" alt=""><script src="dial.js"></script><a href="https://lapwing.example/">x</a>',
      "dial/css/dial.css":
        "body { background: url(../face.png) } b { background: url(https://elsewhere.example/x.png) }",
      "dial/dial.js": 'document.title = "</script>";',
      "dial/hand.svg": "<svg/>",
      "dial/face.png": "PNG",
    });
    expect(page).toContain(`url("data:image/png;base64,${Buffer.from("PNG").toString("base64")}")`);
    expect(page).toContain(`<img src="data:image/svg+xml;base64,${Buffer.from("<svg/>").toString("base64")}"`);
    expect(page).toContain('<script>document.title = "<\\/script>";</script>');
    expect(page).toContain("url(https://elsewhere.example/x.png)");
    expect(page).not.toMatch(/href="css|src="dial\.js"/);
    expect(await checkMedia(strToU8(page))).toMatchObject({ ok: true, content: { mime: "text/html" } });
  });

  it("keeps all else as it was written, however it was written", () => {
    const page = html({
      "index.html":
        "<!doctype html>\n<LINK HREF=a.css REL='stylesheet preload'><!-- <img src=hand.svg> --><p>1 < 2 <img alt='a > b' src = hand.svg\n><style>p { background: url( 'hand.svg' ) }</style><script defer src='a.js'></script><video><source src=gone.mp4></video>",
      "a.css": "p { color: teal }",
      "a.js": "tell()",
      "hand.svg": "<svg/>",
    });
    const data = `data:image/svg+xml;base64,${Buffer.from("<svg/>").toString("base64")}`;
    expect(page).toBe(
      `<!doctype html>\n<style>p { color: teal }</style><!-- <img src=hand.svg> --><p>1 < 2 <img alt='a > b' src="${data}"\n><style>p { background: url("${data}") }</style><script defer>tell()</script><video><source src=gone.mp4></video>`,
    );
  });

  it("is refused with a reason where it is none", () => {
    expect(html({ "readme.txt": "x" })).toBe("The zip has no index.html, so it is no page.");
    expect(unzippedPage(strToU8("PK\u0003\u0004 broken"))).toMatchObject({ ok: false });
  });

  it("is kept as a page of the study", async () => {
    const store = await freshStore();
    const study = await createStudy(store, await freshOwner(store), "Dials");
    const stored = await storeMedia(store, study.id, "dial.zip", zip({ "index.html": "<!doctype html><p>Turn</p>" }));
    if (!stored.ok) throw new Error(stored.reason);
    expect(stored.file).toMatchObject({ name: "dial.zip", mime: "text/html" });
    expect((await readPage(store, study.id, stored.file.sha256))?.toString()).toBe("<!doctype html><p>Turn</p>");
    expect(await storeMedia(store, study.id, "x.zip", zip({ "a.txt": "x" }))).toMatchObject({ ok: false });
  });
});

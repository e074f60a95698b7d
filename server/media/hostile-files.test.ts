import { strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { checkedMedia } from "./checked";
import { unzipped } from "./unzip";
import { isZip, unzippedPage } from "./zipped-page";

/** Files that are made to take all time or all memory; each is answered at once, or the test never ends. */
const megabytes = (piece: string, count = 2) => piece.repeat((count * 1_000_000) / piece.length);
const svg = (inner: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3">${inner}</svg>`;
const page = (inner: string) => `<!doctype html><html><body>${inner}</body></html>`;
const zipOf = (files: Record<string, string>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));

describe("written files", () => {
  it.each<[string, string, boolean]>([
    ["comments that never end", megabytes("<!--"), false],
    ["comments without number", megabytes("<!-- -->"), false],
    ["white space and comments in turn", `${megabytes("<!-- -->  \n")}<p>`, false],
    ["a document type that never ends", `<!DOCTYPE svg ${megabytes("[")}`, false],
    ["a drawing whose names never end", svg(megabytes("href=")), true],
    ["a drawing full of addresses", svg(`<rect fill="${megabytes("url(#a ")}"/>`), true],
    ["a drawing full of blanks before a sign", svg(`<rect x="${megabytes(" ")}x"/>`), true],
    ["a drawing with a view box of digits", `<svg viewBox="${megabytes("1 ")}"></svg>`, false],
    ["a drawing nested without end", svg(megabytes("<g>")), false],
  ])("%s", async (_, text, isTaken) => {
    expect((await checkedMedia(strToU8(text))).ok).toBe(isTaken);
  });

  it.each([
    ["an escaped address", "<style>rect { fill: \\75rl(x.png) }</style>"],
    ["a style in a list of addresses", '<style>rect { fill: url( "#a"), url(x.png) }</style>'],
    ["a style of its own on an element", '<rect style="fill:url(//x.example/a)"/>'],
    ["an animation that sets where a link leads", '<a><set attributeName="xlink:href" to="x"/></a>'],
    ["a handler behind a slash", '<rect/onload="x"/>'],
    ["a style sheet that is fetched", '<?xml-stylesheet href="x.css"?>'],
    ["a picture from elsewhere by its other name", '<image xlink:href=" https://x.example/a.png"/>'],
  ])("a drawing with %s is refused", async (_, inner) => {
    expect(await checkedMedia(strToU8(svg(inner)))).toMatchObject({ ok: false });
  });
});

describe("zips", () => {
  it.each([
    ["addresses in styles that never end", { "index.html": page(""), "a.css": megabytes("url(") }],
    ["styles within the page that never end", { "index.html": page(`<style>${megabytes("url(")}</style>`) }],
    ["elements within elements", { "index.html": page(megabytes("<div>", 1)) }],
    ["an address with broken escapes", { "index.html": page('<img src="a%zz.png">') }],
    ["an address of question marks", { "index.html": page(`<img src="${megabytes("?#")}">`) }],
  ])("of a page with %s become a page", (_, files) => {
    expect(unzippedPage(zipOf(files as unknown as Record<string, string>))).toMatchObject({ ok: true });
  });

  const most = { mostBytes: 200e6, mostFiles: 5000 };
  it("that unfold to far more than they hold are refused by their directory", () => {
    const bomb = zipSync({ "media/a": new Uint8Array(60_000_000) });
    expect(bomb.length).toBeLessThan(100_000);
    expect(isZip(bomb)).toBe(true);
    expect(unzipped(bomb, most)).toMatchObject({ ok: false, kind: "large" });
  });

  it("whose directory says less than they hold are refused while they are unfolded", () => {
    const bomb = zipSync({ a: new Uint8Array(30_000_000) });
    // The directory's entry: the size after unpacking stands 24 bytes behind its signature.
    const directory = bomb.lastIndexOf(0x50, bomb.length - 23);
    const view = new DataView(bomb.buffer, bomb.byteOffset, bomb.byteLength);
    for (let at = directory; at > 0; at--)
      if (view.getUint32(at, true) === 0x02014b50) {
        view.setUint32(at + 24, 10, true);
        break;
      }
    const opened = unzipped(bomb, most);
    if (opened.ok) expect(opened.files.get("a")?.length).toBeLessThanOrEqual(10);
    else expect(opened.kind).toBe("damaged");
  });

  it("of many thousand empty files are refused", () => {
    const files = Object.fromEntries(Array.from({ length: 6000 }, (_, index) => [`a${index}`, new Uint8Array()]));
    expect(unzipped(zipSync(files), most)).toMatchObject({ ok: false, kind: "many" });
  });
});

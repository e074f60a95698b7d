import { deflateSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { checkMedia } from "./content";

const text = (svg: string) => new TextEncoder().encode(svg);
const plain = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30"><path d="M0 0h40v30z"/></svg>';
const svg = (inner: string, attributes = "") =>
  text(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30" ${attributes}>${inner}</svg>`);

/** A real PNG of one colour. */
function png(width: number, height: number): Uint8Array {
  const chunk = (type: string, data: Buffer) =>
    Buffer.concat([Buffer.from([0, 0, 0, data.length]), Buffer.from(type), data, Buffer.alloc(4)]);
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 0, 0, 0, 0], 8);
  return new Uint8Array(
    Buffer.concat([
      Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
      chunk("IHDR", header),
      chunk("IDAT", deflateSync(Buffer.alloc(4))),
      chunk("IEND", Buffer.alloc(0)),
    ]),
  );
}

describe("pictures", () => {
  it("are known by their content, with their size", async () => {
    expect(await checkMedia(text(plain))).toEqual({
      ok: true,
      content: { mime: "image/svg+xml", width: 40, height: 30 },
    });
    expect(await checkMedia(png(7, 9))).toEqual({ ok: true, content: { mime: "image/png", width: 7, height: 9 } });
    const jpeg = new Uint8Array([0xff, 0xd8, 0xff, 0xe0, 0, 4, 0, 0, 0xff, 0xc0, 0, 11, 8, 0, 50, 0, 60, 1, 1, 17, 0]);
    expect(await checkMedia(jpeg)).toEqual({ ok: true, content: { mime: "image/jpeg", width: 60, height: 50 } });
  });

  it.each([
    ["a script", svg("<script>alert(1)</script>")],
    ["a script with a prefix", svg("<svg:script>alert(1)</svg:script>")],
    ["an event handler", svg('<rect onload="alert(1)"/>')],
    ["an event handler on the root", svg("", 'onload="alert(1)"')],
    ["a link that runs code", svg('<a href="javascript:alert(1)"><text>x</text></a>')],
    ["a link that runs code, written with signs", svg('<a href="&#106;avascript:alert(1)"><text>x</text></a>')],
    ["a picture from elsewhere", svg('<image href="https://example.org/x.png"/>')],
    ["a style from elsewhere", svg("<style>@import 'x.css'</style>")],
    ["a fill from elsewhere", svg('<rect fill="url(http://example.org/#a)"/>')],
    ["foreign content", svg("<foreignObject/>")],
    ["an entity", text('<!DOCTYPE svg [<!ENTITY a "b">]>' + plain)],
  ])("an SVG with %s is refused with a reason", async (_, bytes) => {
    expect(await checkMedia(bytes)).toMatchObject({ ok: false, reason: expect.stringMatching(/refused because/) });
  });

  it("an SVG may refer to itself and hold pictures of its own", async () => {
    const drawing =
      '<defs><linearGradient id="g"/></defs><rect fill="url(#g)"/><use href="#g"/><image href="data:image/png;base64,iVBORw0KGgo="/>';
    expect(await checkMedia(svg(drawing))).toMatchObject({ ok: true });
  });

  it.each([
    ["nothing", new Uint8Array()],
    ["a text called .png", text("hello")],
    ["a cut off PNG", png(5, 5).slice(0, 20)],
    ["a PNG without size", png(0, 5)],
    ["a huge PNG", png(100_000, 100_000)],
    ["an SVG without size", text("<svg></svg>")],
  ])("%s is refused with a reason", async (_, bytes) => {
    const checked = await checkMedia(bytes);
    expect(checked.ok).toBe(false);
    if (!checked.ok) expect(checked.reason.length).toBeGreaterThan(10);
  });
});

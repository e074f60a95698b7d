import { mediaKind } from "~/core/media/types";
import { shippedFonts } from "~/core/values/fonts";
import { isBinding, type Id } from "~/core/values/ref";
import type { MediaFile } from "~/core/values/study-values";
import type { StudyDocument } from "~/core/design/document";
import { words } from "./facts";
import { addFont } from "./fonts";
import { loadUsed } from "./used-by-study";
import { ask, showLoading } from "./pages/page";
import { media, pause } from "./server";
import { decodedSound } from "./stage/audio";
import { itemsIn } from "~/core/design/lookup";
import { itemKind } from "~/core/items/registry";

const [atOnce, tries] = [6, 5];

/** Something a session needs could not be loaded: what, and why in a word a researcher can use. */
class NotLoaded extends Error {
  constructor(
    readonly what: string,
    readonly why: string,
  ) {
    super(`${what}: ${why}`);
  }
}

/**
 * Loads everything the session can need before anything begins: media, checked against the hash of the frozen release
 * and decoded, and fonts. Resolves only when everything is there; what cannot be loaded is named, with a code for the
 * researcher.
 */
export async function loadAll(
  study: StudyDocument,
  secret: string,
  session: string,
  into: HTMLElement,
  isRehearsal: boolean,
): Promise<(id: Id) => string | null> {
  const { media: files, parts } = study;
  const urls = new Map<Id, string>();
  const total = files.reduce((sum, { bytes }) => sum + bytes, 0);
  for (;;) {
    const progress = files.length > 0 ? showLoading(into, words("loading")) : () => undefined;
    const left = files.filter(({ id }) => !urls.has(id));
    let come = files.reduce((sum, { id, bytes }) => sum + (urls.has(id) ? bytes : 0), 0);
    const onBytes = (count: number) => progress((come += count) / Math.max(1, total));
    const queue = [...left];
    const troubles: NotLoaded[] = [];
    const work = async () => {
      for (let file = queue.shift(); file && troubles.length === 0; file = queue.shift())
        try {
          urls.set(file.id, await loaded(file, secret, session, onBytes));
        } catch (error) {
          troubles.push(error instanceof NotLoaded ? error : new NotLoaded(file.name, "error"));
        }
    };
    await Promise.all(Array.from({ length: atOnce }, work));
    const [trouble] = troubles;
    if (!trouble) break;
    await ask(
      into,
      [words("notLoaded", { what: trouble.what }), `${words("forResearcher")}: ${session} · ${trouble.why}`],
      [words("tryAgain")],
    );
  }
  await fontsOf(parts);
  await usedBy(study, isRehearsal);
  return (id) => urls.get(id) ?? null;
}

/** Where a media file can be shown or played from at once; tried again with growing pauses. */
async function loaded(
  file: MediaFile,
  secret: string,
  session: string,
  onBytes: (count: number) => void,
): Promise<string> {
  const { sha256, mime, name } = file;
  const kind = mediaKind(mime);
  for (let failures = 0; ; failures++) {
    let come = 0;
    try {
      const bytes = await media(secret, sha256, (count) => {
        come += count;
        onBytes(count);
      });
      if ((await hashOf(bytes)) !== sha256) throw new Error("differs");
      if (kind === "font") return await withFont(file, bytes);
      if (kind === "page") return await warmedPage(await pageAt(session, secret, sha256));
      const url = URL.createObjectURL(new Blob([bytes], { type: mime }));
      await ready(kind, url, name);
      return url;
    } catch (error) {
      if (error instanceof NotLoaded) throw error;
      onBytes(-come);
      if (failures >= tries - 1) throw new NotLoaded(name, error instanceof Error ? reasonOf(error) : "error");
      await pause(Math.min(5000, 300 * 2 ** failures) * (0.75 + 0.5 * Math.random()));
    }
  }
}

const reasonOf = ({ name, message }: Error) => (/^(\d{3}|differs)$/.test(message) ? message : name);

/** A font is known by its family from now on, and has no address. */
async function withFont(file: MediaFile, bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  await addFont(file, bytes).catch(() => {
    throw new NotLoaded(file.name, "not readable");
  });
  return "";
}

/** Decodes what is decoded once for all trials, and a video's first frame; a file this browser cannot play keeps the session from beginning. */
async function ready(kind: ReturnType<typeof mediaKind>, url: string, name: string): Promise<void> {
  try {
    if (kind === "picture") {
      const picture = new Image();
      picture.src = url;
      await picture.decode();
    } else if (kind === "sound") await decodedSound(url);
    else if (kind === "video") await firstFrame(url);
  } catch {
    throw new NotLoaded(name, "not playable");
  }
}

/** Settled when a first frame is decoded; rejects where this browser has no decoder for it. */
function firstFrame(url: string): Promise<void> {
  const video = document.createElement("video");
  Object.assign(video, { preload: "auto", muted: true, src: url });
  const settled = new Promise<void>((resolve, reject) => {
    // Sound alone has no size.
    video.onloadeddata = () => (video.videoWidth > 0 ? resolve() : reject(new Error("no picture")));
    video.onerror = () => reject(new Error("no decoder"));
    setTimeout(() => reject(new Error("no frame")), 20_000);
  });
  return settled.finally(() => {
    video.removeAttribute("src");
    video.load();
  });
}

/** A page is loaded once in the kind of frame that will show it, so that it comes from this computer's store later. */
function warmedPage(address: string): Promise<string> {
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts allow-forms");
  frame.hidden = true;
  frame.src = address;
  return new Promise((resolve) => {
    const done = () => {
      frame.remove();
      resolve(address);
    };
    frame.onload = done;
    setTimeout(done, 15_000);
    document.body.append(frame);
  });
}

/** What opens the pages of a session, without telling its secret to them. */
/** Where a page of the study lies for a session. */
export const pageAt = async (session: string, secret: string, page: string): Promise<string> =>
  `/pages/session/${session}/${await rightToPages(secret)}/${page}`;

async function rightToPages(secret: string): Promise<string> {
  const hashOfText = (text: string) => hashOf(new TextEncoder().encode(text));
  return (await hashOfText(`pages ${await hashOfText(secret)}`)).slice(0, 32);
}

async function hashOf(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const { subtle } = crypto as { subtle?: SubtleCrypto };
  // Without TLS browsers offer no digests of their own.
  const digest = subtle
    ? new Uint8Array(await subtle.digest("SHA-256", bytes))
    : (await import("@noble/hashes/sha2")).sha256(bytes);
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** What a study uses: fetched now, since the network may be gone when they come. */
async function usedBy(study: StudyDocument, isRehearsal: boolean): Promise<void> {
  for (let failures = 0; ; failures++) {
    try {
      return await loadUsed(study, isRehearsal);
    } catch (error) {
      if (failures >= tries) throw error;
      await pause(Math.min(5000, 300 * 2 ** failures));
    }
  }
}

/** Fonts that trials or pages can use, in the weights and styles they use. */
async function fontsOf(parts: StudyDocument["parts"]): Promise<void> {
  const families = new Set(["Atkinson Hyperlegible Next"]);
  for (const part of Object.values(parts))
    if (part.kind === "page") {
      const { font } = part;
      for (const family of font === undefined ? [] : isBinding(font) ? shippedFonts : [font]) families.add(family);
    } else
      for (const item of itemsIn(part))
        for (const family of itemKind(item.kind).fonts?.(item) ?? []) families.add(family);
  const wanted = [...families].flatMap((family) =>
    ["400", "700", "italic 400"].map((style) => `${style} 20px "${family} Variable"`),
  );
  await Promise.race([Promise.allSettled(wanted.map((font) => document.fonts.load(font))), pause(8000)]);
  await document.fonts.ready;
}

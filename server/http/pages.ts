import { createHash, timingSafeEqual } from "node:crypto";
import { Router, type NextFunction, type Request, type Response } from "express";
import type { StudyDocument } from "../../core/design/document";
import { itemsIn } from "../../core/design/lookup";
import { mayDo } from "../../core/rights/rights";
import { isBinding } from "../../core/values/ref";
import { accountOfSecret } from "../accounts";
import type { Store } from "../database/open";
import { frozenDocument } from "../frozen-documents";
import { studyOfReader } from "../reader-link";
import { findStudy, findStudyByCode } from "../studies";
import { readPage } from "../media/study-media";
import { readerSecretOf, signInSecretOf } from "./cookie";
import { foreignPage } from "./headers";
import { serviceFrame, serviceFrameHeaders } from "./service-frame";

/**
 * Headers of a web page that is an item: it runs its own scripts and styles, in an origin of its own and in our frames only.
 * It leads nowhere, sends no forms, opens and saves nothing, and fetches only what its item names.
 */
const pageHeaders = (connects: readonly string[], kept: string) => ({
  ...foreignPage,
  "Cache-Control": kept,
  "Content-Security-Policy": [
    "sandbox allow-scripts allow-forms",
    "default-src 'none'",
    "script-src 'unsafe-inline'",
    "style-src 'unsafe-inline'",
    "img-src data: blob:",
    "font-src data:",
    "media-src data: blob:",
    `connect-src ${connects.length > 0 ? connects.join(" ") : "'none'"}`,
    "form-action 'none'",
    "base-uri 'none'",
    "frame-ancestors 'self'",
  ].join("; "),
});

/** What opens the pages of a session, made of the hash that is stored of its secret: the player makes the same from the secret. */
export const rightToPages = (tokenHash: string): string =>
  createHash("sha256").update(`pages ${tokenHash}`).digest("hex").slice(0, 32);

type Asked = Request<Record<string, string>>;
/** Sends a page of a study: the one with this hash, or the one that is the same in all. */
type Send = (
  response: Response,
  study: { id: string; document: StudyDocument },
  sha256: string,
  kept: string,
) => void | Promise<void>;

/** The pages that are media, and the one from which services are asked, for those who take part in a session and for those who design the study. */
export function pages(store: Store): Router {
  const router = Router();
  /** The study of a session, for who has the right to its pages. */
  const played = async ({ params: { session = "", right = "" } }: Asked) => {
    const row = await store.db
      .selectFrom("session")
      .select(["token_hash", "release_id", "study_id"])
      .where("id", "=", session)
      .executeTakeFirst();
    if (!row || !isSame(right, rightToPages(row.token_hash))) return null;
    return { id: row.study_id, document: await frozenDocument(store.db, row.release_id) };
  };
  /** The study as it is designed, for whose it is. */
  const designed = async (request: Asked) => {
    const secret = signInSecretOf(request.get("cookie"));
    const account = secret ? await accountOfSecret(store, secret) : null;
    const code = request.params.code ?? "";
    const study = account && (await findStudy(store, account.id, code));
    if (study) return mayDo(study.roles, "open-study") ? study : null;
    const reading = readerSecretOf(request.get("cookie"));
    const read = reading ? await studyOfReader(store, reading) : null;
    return read?.code === code ? findStudyByCode(store, code) : null;
  };
  const answers = (found: typeof played | typeof designed, send: Send, kept: string) => {
    const answer = async (request: Asked, response: Response) => {
      const study = await found(request);
      if (study) await send(response, study, request.params.sha256 ?? "", kept);
      else response.sendStatus(404);
    };
    return (request: Asked, response: Response, next: NextFunction) => void answer(request, response).catch(next);
  };
  router.get("/pages/session/:session/:right/services", answers(played, sendServices, "private, max-age=3600"));
  router.get(
    "/pages/session/:session/:right/:sha256",
    answers(played, sendPage, "private, max-age=31536000, immutable"),
  );
  // What a page or a frame may reach can be changed while the study is designed.
  router.get("/pages/design/:code/services", answers(designed, sendServices, "no-store"));
  router.get("/pages/design/:code/:sha256", answers(designed, sendPage, "no-store"));
  return router;

  async function sendPage(...[response, { id, document }, sha256, kept]: Parameters<Send>): Promise<void> {
    const page = await readPage(store, id, sha256);
    if (page)
      response
        .set(pageHeaders(connectsOf(document, sha256), kept))
        .type("text/html")
        .send(page);
    else response.sendStatus(404);
  }
}

const sendServices: Send = (response, { document }, _, kept) =>
  void response.set(serviceFrameHeaders(document, kept)).type("text/html").send(serviceFrame);

const isSame = (one: string, other: string): boolean =>
  one.length === other.length && timingSafeEqual(Buffer.from(one), Buffer.from(other));

/** What the items that can show a page let it fetch from. */
function connectsOf({ parts, media }: StudyDocument, sha256: string): string[] {
  const ids = new Set(media.flatMap((file) => (file.sha256 === sha256 ? [file.id] : [])));
  const connects = Object.values(parts).flatMap((part) =>
    part.kind === "block"
      ? itemsIn(part).flatMap((item) =>
          item.kind === "web" && item.page.from === "file" && (isBinding(item.page.file) || ids.has(item.page.file))
            ? (item.connects ?? [])
            : [],
        )
      : [],
  );
  return [...new Set(connects)];
}

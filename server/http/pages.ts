import { createHash, timingSafeEqual } from "node:crypto";
import { Router, type Request, type Response } from "express";
import type { StudyDocument } from "../../core/design/document";
import { itemsIn } from "../../core/design/lookup";
import { isBinding } from "../../core/values/ref";
import { accountOfSecret } from "../accounts";
import type { Store } from "../database/open";
import { frozenDocument } from "../frozen-documents";
import { findStudy } from "../studies";
import { readPage } from "../media/study-media";
import { signInSecretOf } from "./cookie";
import { serviceFrame, serviceFrameHeaders } from "./service-frame";

/**
 * Headers of a web page that is an item: it runs its own scripts and styles, in an origin of its own and in our frames only.
 * It leads nowhere, sends no forms, opens and saves nothing, and fetches only what its item names.
 */
const pageHeaders = (connects: readonly string[], kept: string) => ({
  "X-Content-Type-Options": "nosniff",
  "Referrer-Policy": "no-referrer",
  "Cross-Origin-Resource-Policy": "same-origin",
  "Cross-Origin-Embedder-Policy": "require-corp",
  "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
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

/** The pages that are media, for those who take part in a session with them and for those who design the study. */
export function pages(store: Store): Router {
  const router = Router();
  router.get("/pages/session/:session/:right/:sha256", (request: Request<Record<string, string>>, response, next) => {
    const { session = "", right = "", sha256 = "" } = request.params;
    store.db
      .selectFrom("session")
      .select(["token_hash", "release_id", "study_id"])
      .where("id", "=", session)
      .executeTakeFirst()
      .then(async (row) => {
        if (!row || !isSame(right, rightToPages(row.token_hash))) return void response.sendStatus(404);
        const document = await frozenDocument(store.db, row.release_id);
        if (sha256 === "services")
          return void response.set(serviceFrameHeaders(document)).type("text/html").send(serviceFrame);
        await send(response, row.study_id, document, sha256, "private, max-age=31536000, immutable");
      })
      .catch(next);
  });
  router.get("/pages/design/:code/:sha256", (request: Request<Record<string, string>>, response, next) => {
    const secret = signInSecretOf(request.get("cookie"));
    const { code = "", sha256 = "" } = request.params;
    (secret ? accountOfSecret(store, secret) : Promise.resolve(null))
      .then(async (account) => {
        const study = account && (await findStudy(store, account.id, code));
        if (!study) return void response.sendStatus(404);
        if (sha256 === "services")
          return void response
            .set({ ...serviceFrameHeaders(study.document), "Cache-Control": "no-store" })
            .type("text/html")
            .send(serviceFrame);
        // What its item lets it reach may be changed while it is designed.
        await send(response, study.id, study.document, sha256, "no-store");
      })
      .catch(next);
  });

  async function send(
    response: Response,
    studyId: string,
    document: StudyDocument,
    sha256: string,
    kept: string,
  ): Promise<void> {
    const page = await readPage(store, studyId, sha256);
    if (page)
      response
        .set(pageHeaders(connectsOf(document, sha256), kept))
        .type("text/html")
        .send(page);
    else response.sendStatus(404);
  }
  return router;
}

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

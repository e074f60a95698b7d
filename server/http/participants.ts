import { pipeline } from "node:stream/promises";
import compression from "compression";
import express, { Router, type NextFunction, type Request, type RequestHandler, type Response } from "express";
import * as yup from "yup";
import { newStudy } from "../../core/design/new-study";
import { device, type Device } from "../../core/values/device";
import { isDeeperThan } from "../../core/shape/depth";
import { entryInto } from "../../core/run/entry";
import { isBusy, type Store } from "../database/open";
import { gazeState, takeGaze } from "../gaze";
import { mediaTypeOf } from "../media/study-media";
import { entryOf, lateInWords } from "../entering";
import { PaceKeeper } from "../pace";
import { placeSession } from "../places";
import { appendRecords } from "../records";
import { resumeSession, sessionOfSecret, setDevice } from "../session-of-secret";
import { startSession } from "../sessions";
import type { SessionData, SessionDataAlone } from "../../core/run/session-data";
import { packedDocument, packings, textOf, type Packing } from "../frozen-documents";
import type { PlayerAssets } from "./context";
import { whyUnsuited } from "../../core/collect/suited";
import { countUnsuited } from "../unsuited";
import { signInSecretOf } from "./cookie";
import { senderOf } from "./guard";
import { previewPath } from "./headers";
import { parameters } from "./parameters";
import { participantPage } from "./participant-page";

/** A record each 1.5 s is usual; after an outage a player sends what it has in a few large pieces. */
const sending = { burst: 40, perSecond: 8 };
/** Requests with an unknown secret count as guessing: one address may make this many. */
const guessing = { burst: 300, perSecond: 2 };
/** So much of that a code or a word costs that is not the right one. */
const costOfGuess = 5;
/** A whole class may start at once from behind one address. */
const starting = { burst: 600, perSecond: 10 };
const loading = { burst: 4000, perSecond: 400 };
const mostBytes = "4mb";

/** `documentApart`: the player asks for the document by itself; earlier ones had it with the session. */
const startBody = yup
  .object({
    secret: yup.string().required(),
    parameters: parameters.optional(),
    documentApart: yup.boolean().optional(),
    goOn: yup.string().min(1).max(20).optional(),
    word: yup.string().max(60).optional(),
  })
  .noUnknown();
/** A session as JSON, with its document where the player does not ask for that by itself. */
function sessionText({ document, ...session }: SessionData, isDocumentApart: boolean): string {
  const text = JSON.stringify(session satisfies SessionDataAlone);
  return isDocumentApart ? text : `${text.slice(0, -1)},"document":${textOf(document)}}`;
}

/**
 * Everything reachable without an account: participants' pages and what their player requests. Kept apart from the
 * researchers' screens, so that it is small enough to audit, and fast.
 */
export function participants(store: Store, player: PlayerAssets, preview: PlayerAssets): Router {
  const router = Router();
  const pace = {
    send: new PaceKeeper(sending),
    start: new PaceKeeper(starting),
    load: new PaceKeeper(loading),
    guess: new PaceKeeper(guessing),
  };
  const json = express.json({ limit: mostBytes, strict: false, type: () => true });
  // A session is short when its document is sent apart; to pack it would cost more than it saves.
  const packed = compression({ filter: (_, response) => response.locals.isShort !== true });

  router.get("/join/:token", (request, response, next) => {
    entryOf(store, request.params.token, given(request.query), signInSecretOf(request.get("Cookie")))
      .then((found) => {
        if (!found) return void page(response, 404).send(participantPage(player, { ...nowhere, entry: closedEntry }));
        // Who has begun by a link that was closed since still continues by it, as after a reload.
        const facts = { ...found, join: request.params.token };
        page(response, found.closed === null ? 200 : 404).send(participantPage(player, facts));
      })
      .catch(next);
  });
  // The session's secret stands behind the # of the address and never reaches the server's log.
  router.get("/play", (_, response) => {
    page(response, 200).send(participantPage(player, { ...nowhere, entry: { ...closedEntry, title: "Rehearsal" } }));
  });

  // The pages alone, drawn as the window around them says: it holds nothing of any study.
  router.get(previewPath, (_, response) => {
    page(response, 200).send(participantPage(preview, { ...nowhere, entry: closedEntry }));
  });

  router.post(
    "/api/join/:token",
    keepPace(pace.start, senderOf),
    json,
    packed,
    (request: Request<{ token: string }>, response, next) => {
      const sent: unknown = isDeeperThan(request.body, 5) ? null : request.body;
      if (!startBody.isValidSync(sent, { strict: true }))
        return void response.status(400).json({ reason: "Send a secret for the session." });
      const given = sent as {
        secret: string;
        parameters?: Record<string, string>;
        documentApart?: boolean;
        goOn?: string;
        word?: string;
      };
      response.locals.isShort = given.documentApart === true;
      const { goOn = null, word } = given;
      // Codes for going on and words could be guessed at.
      const sender = senderOf(request);
      const isGuess = goOn !== null || word !== undefined;
      if (isGuess && !pace.guess.allows(sender, performance.now(), costOfGuess)) return void tooMany(response);
      startSession(store, request.params.token, given.secret, request.get("User-Agent") ?? "", given.parameters, {
        ...{ goOn, signIn: signInSecretOf(request.get("Cookie")) },
        ...(word === undefined ? {} : { word }),
      })
        .then((started) => {
          // A whole class types the same word.
          if (isGuess && started.ok) pace.guess.giveBack(sender, costOfGuess);
          return started.ok
            ? response
                .set("Cache-Control", "no-store")
                .type("application/json")
                .send(sessionText(started.session, given.documentApart === true))
            : response.status(404).json({ ...started, ok: undefined });
        })
        .catch(next);
    },
  );
  router.post(
    "/api/join/:token/unsuited",
    keepPace(pace.start, senderOf),
    json,
    (request: Request<{ token: string }>, response, next) => {
      const why = whyUnsuited.find((each) => each === (request.body as { why?: unknown } | null)?.why);
      if (!why) return void response.status(400).json({ reason: "Say why it could not be." });
      countUnsuited(store, request.params.token, why)
        .then(() => response.json({}))
        .catch(next);
    },
  );
  /** The body of an unknown sender is never read. */
  const known: RequestHandler<never> = (request, response, next) => {
    const sender = request as Request;
    sessionOfSecret(store, bearerOf(sender))
      .then((session) => {
        if (session) return next();
        if (pace.guess.allows(senderOf(sender), performance.now())) return noSession(response);
        return tooMany(response);
      })
      .catch(next);
  };
  router.use("/api/session", known);
  router.get("/api/session", keepPace(pace.send, bearerOf), packed, (request, response, next) => {
    resumeSession(store, bearerOf(request))
      .then(async (session) => {
        const row = session && !session.finished ? await sessionOfSecret(store, bearerOf(request)) : null;
        const late = row && (await lateInWords(store.db, row.document, row));
        if (late != null) return response.status(410).json({ reason: late });
        if (session)
          return response
            .set("Cache-Control", "no-store")
            .type("application/json")
            .send(sessionText(session, request.query.document === "apart"));
        return (await sessionOfSecret(store, bearerOf(request)))?.superseded
          ? response.status(409).json({ reason: "This session continues on another computer.", elsewhere: true })
          : noSession(response);
      })
      .catch(next);
  });
  router.get("/api/session/document", keepPace(pace.load, bearerOf), (request, response, next) => {
    sessionOfSecret(store, bearerOf(request))
      .then(async (session) => {
        if (!session) return noSession(response);
        const packing = request.acceptsEncodings(...packings) || "identity";
        const body = await packedDocument(store.db, session.releaseId, packing as Packing);
        if (packing !== "identity") response.set("Content-Encoding", packing);
        return response
          .set({ "Cache-Control": "no-store", Vary: "Accept-Encoding" })
          .type("application/json")
          .send(body);
      })
      .catch(next);
  });
  router.post("/api/session/place", keepPace(pace.send, bearerOf), (request, response, next) => {
    placeSession(store, bearerOf(request))
      .then((placed) =>
        placed.ok
          ? response.set("Cache-Control", "no-store").json(placed.place)
          : response
              .status(placed.isElsewhere ? 409 : placed.isEarly ? 503 : 404)
              .json({ reason: placed.reason, end: placed.end, ...(placed.isElsewhere ? { elsewhere: true } : {}) }),
      )
      .catch(next);
  });
  // Only players of studies that look at the device tell of it.
  router.post("/api/session/device", keepPace(pace.send, bearerOf), json, (request, response, next) => {
    const told: unknown = request.body;
    if (!device.fits(told)) return void response.status(400).json({ reason: "Send what the browser tells of it." });
    setDevice(store, bearerOf(request), told as Device)
      .then((kept) => response.json({ device: kept }))
      .catch(next);
  });
  router.get("/api/session/gaze", keepPace(pace.send, bearerOf), (request, response, next) => {
    gazeState(store, bearerOf(request))
      .then((state) => (state ? response.set("Cache-Control", "no-store").json(state) : noSession(response)))
      .catch(next);
  });
  router.post("/api/session/gaze", keepPace(pace.send, bearerOf), json, (request, response, next) => {
    takeGaze(store, bearerOf(request), request.body)
      .then((taken) =>
        taken.ok
          ? response.json(taken.state)
          : response.status(taken.isFull ? 503 : 400).json({ reason: taken.reason }),
      )
      .catch(next);
  });
  router.post("/api/session/records", keepPace(pace.send, bearerOf), json, (request, response, next) => {
    appendRecords(store, bearerOf(request), request.body)
      .then((appended) =>
        appended.ok
          ? response.json(appended)
          : response.status(appended.isFull ? 503 : 400).json({ reason: appended.reason }),
      )
      .catch(next);
  });
  router.get(
    "/api/session/media/:sha256",
    keepPace(pace.load, bearerOf),
    (request: Request<{ sha256: string }>, response, next) => {
      sessionOfSecret(store, bearerOf(request))
        .then(async (session) => {
          const { sha256 } = request.params;
          const isOfStudy = session?.document.media.some((file) => file.sha256 === sha256) === true;
          const mime = session && isOfStudy ? await mediaTypeOf(store, session.studyId, sha256) : null;
          if (mime === null) return noSession(response);
          const { bytes, content } = await store.media.stream(sha256);
          response.set({
            "Content-Type": mime,
            "Content-Length": String(bytes),
            "Cache-Control": "private, max-age=31536000, immutable",
            "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; sandbox",
          });
          // A participant who closes the window meanwhile is not an error.
          await pipeline(content, response).catch(() => response.destroy());
        })
        .catch(next);
    },
  );

  router.use("/api", (error: unknown, _: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    const status = statusOf(error);
    if (status >= 500) console.error(error);
    response.status(status).json({
      reason:
        status === 503
          ? "The server cannot store anything right now. It will be tried again; nothing is lost."
          : status === 413
            ? "Too much at once. Send fewer records."
            : status < 500
              ? "This request cannot be read."
              : "Something went wrong on the server. Nothing was changed; try again.",
    });
  });
  return router;
}

/** The page for a link that leads nowhere: plain English, nothing of any study. */
const closedEntry = entryInto(newStudy((prefix) => prefix, "No open study here", "0000"));

const nowhere = {
  ...{ join: "", closed: closedEntry.wording.notOpen, end: null },
  ...{ asksWord: false, isPersonal: false, perBrowser: null, on: null, unsuited: "" },
};

/** The parameters of a participant's address, as far as they are such. */
const given = (query: Request["query"]): Record<string, string> => {
  const texts = Object.entries(query).flatMap(([name, value]) => (typeof value === "string" ? [[name, value]] : []));
  const found = Object.fromEntries(texts.slice(0, 20)) as unknown;
  return parameters.isValidSync(found) ? (found ?? {}) : {};
};

const page = (response: Response, status: number): Response =>
  response.status(status).set({ "Content-Type": "text/html; charset=utf-8", "Cache-Control": "no-store" });

/** The secret a participant's player sends along; empty where there is none. */
const bearerOf = (request: Pick<Request, "get">): string =>
  /^Bearer (\S+)$/.exec(request.get("Authorization") ?? "")?.[1]?.slice(0, 100) ?? "";

const noSession = (response: Response): Response =>
  response.status(404).json({ reason: "This session is not known here. Open the link again." });

const keepPace =
  (keeper: PaceKeeper, of: (request: Request) => string): RequestHandler<never> =>
  (request, response, next) => {
    if (keeper.allows(of(request as Request) || senderOf(request as Request), performance.now())) return next();
    tooMany(response);
  };

const tooMany = (response: Response) =>
  response.status(429).set("Retry-After", "2").json({ reason: "Too many requests at once. Wait a moment." });

function statusOf(error: unknown): number {
  if (isBusy(error)) return 503;
  return typeof error === "object" && error !== null && "status" in error && typeof error.status === "number"
    ? error.status
    : 500;
}

import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type Express, type NextFunction, type Request, type Response } from "express";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { ServerBuild } from "react-router";
import type { Store } from "../database/open";
import type { ExportDesk } from "../export/desk";
import type { Mailer } from "../mail";
import type { Provider } from "../provider";
import type { MovingDesk } from "../moving/desk";
import type { ResultsDesk } from "../results/desk";
import type { PlayerAssets, ServerContext } from "./context";
import { bounded, tooLarge } from "./bounds";
import { guarded, keptByNobody, senderOf, type PublicAddress } from "./guard";
import { knownLength, ownOrigin, securityHeaders } from "./headers";
import { pages } from "./pages";
import { scriptFrame } from "./script-frame";
import { participants } from "./participants";

export type Parts = {
  store: Store;
  results: ResultsDesk;
  exports: ExportDesk;
  moving: MovingDesk;
  version: string;
  buildFolder: string;
  build: ServerBuild;
  isDemo: boolean;
  publicAddress: PublicAddress | null;
  mailer: Mailer | null;
  provider: Provider | null;
};

/** The whole server as one Express application, not yet listening. */
export function application({
  store,
  results,
  exports,
  moving,
  version,
  buildFolder,
  build,
  isDemo,
  publicAddress,
  mailer,
  provider,
}: Parts): Express {
  const player = playerAssets(buildFolder, "player");
  const preview = playerAssets(buildFolder, "preview");
  const app = express();
  app.disable("x-powered-by");
  // A proxy on this machine may say for whom and by which protocol it asks.
  app.set("trust proxy", "loopback");
  app.use(guarded(publicAddress), keptByNobody(publicAddress));
  app.get("/healthz", (_, response) => void response.set("Cache-Control", "no-store").json({ status: "ok", version }));
  app.use(pages(store), scriptFrame());
  app.use(securityHeaders, ownOrigin, knownLength, bounded);
  app.use(participants(store, player, preview));
  app.use(compression());
  const hashed = { immutable: true, maxAge: "1y", index: false, fallthrough: false } as const;
  app.use("/assets", express.static(join(buildFolder, "client", "assets"), hashed));
  for (const script of ["player", "preview"]) app.use(`/${script}`, express.static(join(buildFolder, script), hashed));
  app.use(express.static(join(buildFolder, "client"), { index: false, maxAge: "1h" }));
  app.all(
    "/{*path}",
    createRequestHandler({
      build,
      getLoadContext: (request, response): ServerContext => ({
        store,
        results,
        exports,
        moving,
        version,
        isDemo,
        publicAddress,
        mailer,
        provider,
        nonce: String((response.locals as { nonce?: string }).nonce),
        clientAddress: senderOf(request),
      }),
    }),
  );
  app.use((error: unknown, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    const status =
      typeof error === "object" && error !== null && "status" in error && typeof error.status === "number"
        ? error.status
        : 500;
    if (status >= 500) console.error(error);
    response
      .status(status)
      .type("text/plain")
      .send(
        status === 404
          ? "Not found."
          : status === 413
            ? tooLarge
            : status < 500
              ? "This request cannot be read."
              : "Something went wrong on the server. Nothing was changed; try again.",
      );
  });
  return app;
}

/** Where the script of the player, or of its preview, and its styles lie, as the build named them. */
function playerAssets(buildFolder: string, script: "player" | "preview"): PlayerAssets {
  type Chunk = { file: string; css?: string[]; imports?: string[]; isEntry?: boolean };
  const manifest = JSON.parse(readFileSync(join(buildFolder, script, ".vite", "manifest.json"), "utf8")) as Record<
    string,
    Chunk
  >;
  const entry = Object.values(manifest).find(({ isEntry }) => isEntry);
  if (!entry) throw new Error(`The ${script} has not been built`);
  const address = (file: string) => `/${script}/${file}`;
  return {
    script: address(entry.file),
    styles: (entry.css ?? []).map(address),
    preload: (entry.imports ?? []).flatMap((name) => manifest[name]?.file ?? []).map(address),
  };
}

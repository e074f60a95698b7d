import { data } from "react-router";
import * as yup from "yup";
import { accountOnly, refuseUnless, requireStudy } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { excessInWords } from "~/core/allocate/bounds";
import { frozenDocument, frozenHash } from "~/server/frozen-documents";
import { startRehearsal } from "~/server/rehearsals";
import { noRelease, releaseNumbered } from "~/server/releases";
import { duplicateStudy } from "~/server/studies";
import { actionOrAway } from "~/app/when-away";
import type { Route } from "./+types/study-release";

/** The document of a release, by the release's number; with `hash=yes` what it is known by. Neither changes. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "open-study");
  const release = await releaseNumbered(context.store, study.id, params.number);
  if (!release) return new Response(noRelease(params.number), { status: 404 });
  const { db } = context.store;
  const isHash = new URL(request.url).searchParams.get("hash") === "yes";
  return Response.json(isHash ? { sha256: await frozenHash(db, release.id) } : await frozenDocument(db, release.id), {
    headers: { "Cache-Control": "private, max-age=86400, immutable" },
  });
}

const asked = yup.object({ do: yup.string().oneOf(["play", "copy"]).required() });

/** Plays a release as a rehearsal, or makes a new study of it; gives the address at which that is. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = accountOnly(await requireStudy(request, context, params.code, "see-design"));
  const sent = await readJson(request, asked);
  if (sent?.do === "play") refuseUnless(study.roles, ["rehearse"]);
  const { store } = context;
  const release = await releaseNumbered(store, study.id, params.number);
  if (!sent || !release) return data({ reason: noRelease(params.number) }, { status: 404 });
  const document = await frozenDocument(store.db, release.id);
  if (sent.do === "copy") {
    const title = `${document.title}, from release ${release.number}`;
    const { code } = await duplicateStudy(store, study.account.id, study, { document, title });
    return { address: `/studies/${code}/plan` };
  }
  const excess = excessInWords(document);
  if (excess !== null) return data({ reason: excess }, { status: 422 });
  const browser = request.headers.get("User-Agent") ?? "";
  const { secret } = await startRehearsal(store, study, { participant: 1 }, browser, release.id);
  return { address: `/play#${secret}` };
}

export const clientAction = actionOrAway;

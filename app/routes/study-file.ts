import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { noRelease, releaseNumbered } from "~/server/releases";
import type { Route } from "./+types/study-file";

/** The study as it is saved with its media as one file, or one of its releases (`release=N`). */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, id } = await requireStudy(request, context, params.code, "see-design");
  const asked = new URL(request.url).searchParams.get("release");
  const release = asked === null ? null : await releaseNumbered(context.store, id, asked);
  if (asked !== null && !release) return new Response(noRelease(asked), { status: 404 });
  const name = release ? `${code}-release-${release.number}` : code;
  const task = { kind: "study", code, release: release?.id ?? null } as const;
  return exported(context, task, `${name}.lapwing.zip`, "application/zip");
}

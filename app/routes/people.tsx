import { data } from "react-router";
import * as yup from "yup";
import { accountOnly, refuseUnless, requireStudy } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { KeyList } from "~/app/people/key-list";
import { ComputerList } from "~/app/people/computer-list";
import { RightsTable } from "~/app/people/rights-table";
import { peopleDeeds } from "~/app/people/people-deeds.server";
import { ShareList } from "~/app/people/share-list";
import { StudyLog } from "~/app/people/study-log";
import { useStudy } from "~/app/editing/use-study";
import { mayDo, type Right } from "~/core/rights/rights";
import { computersOf } from "~/server/lab-computers";
import { labsOf } from "~/server/labs";
import { keysOf } from "~/server/script-keys";
import { hasReaderLink } from "~/server/reader-link";
import { sharesOf, showsGroups } from "~/server/sharing";
import { deedKinds, deedsIn } from "~/server/study-log";
import { actionOrAway, unlessAway } from "~/app/when-away";
import type { Route } from "./+types/people";

/** Who works on a study, and of that what the one who asks may know: its keys, and its log. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = accountOnly(await requireStudy(request, context, params.code, "open-study"));
  const { store } = context;
  const may = (right: Right) => mayDo(study.roles, right);
  const asked = new URL(request.url).searchParams;
  const kind = deedKinds.find((each) => each === asked.get("log"));
  const page = Math.max(1, Math.floor(Number(asked.get("page")) || 1));
  return {
    account: study.account.id,
    isDemo: study.account.isDemo,
    shares: await sharesOf(store, study.id),
    hasReaderLink: await hasReaderLink(store, study.id),
    showsGroups: await showsGroups(store, study.id),
    labs: may("share") ? (await labsOf(store, study.account.id)).map(({ id, name }) => ({ id, name })) : [],
    computers: may("hand-out") ? await computersOf(store, study.id) : null,
    keys: may("see-results") || may("share") ? await keysOf(store, study.id) : null,
    log: may("share") ? { kind, page, deeds: await deedsIn(store, study, kind ? { kind, page } : { page }) } : null,
  };
}

const asked = yup.object({ do: yup.string().required() });

/** Does what is asked; gives why it was not done, and what was made. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = accountOnly(await requireStudy(request, context, params.code, "open-study", "start-sessions"));
  const refused = (reason: string) => data({ reason }, { status: 422 });
  const sent = await readJson(request, asked);
  const deed = sent && Object.hasOwn(peopleDeeds, sent.do) ? peopleDeeds[sent.do] : undefined;
  if (deed && deed.oneOf.length > 0) refuseUnless(study.roles, deed.oneOf);
  const done = deed ? await deed.does(sent, { store: context.store, study }) : null;
  if (!done) return refused("This request cannot be read.");
  return done.reason === undefined ? done : refused(done.reason);
}

export const clientAction = actionOrAway;
export const shouldRevalidate = unlessAway;

export default function People({ loaderData }: Route.ComponentProps) {
  const { may } = useStudy();
  const { keys, log, computers } = loaderData;
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-[1180px] grid-cols-[minmax(0,7fr)_minmax(0,5fr)] items-start gap-10 px-5 py-6 small:grid-cols-1">
        <div className="grid gap-8">
          <ShareList {...loaderData} mayShare={may("share")} />
          {log && <StudyLog {...log} />}
        </div>
        <div className="grid gap-8">
          <RightsTable />
          {computers && <ComputerList computers={computers} />}
          {keys && (
            <KeyList keys={keys} account={loaderData.account} mayMake={may("see-results")} endsAll={may("share")} />
          )}
        </div>
      </div>
    </div>
  );
}

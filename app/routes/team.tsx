import { data } from "react-router";
import * as yup from "yup";
import { requireAccount } from "~/app/account.server";
import { AccountMenu, Strip } from "~/app/components/strip";
import { readJson } from "~/app/form.server";
import { AccountList } from "~/app/people/account-list";
import { LabList } from "~/app/people/lab-list";
import { teamDeeds } from "~/app/people/team-deeds.server";
import { listAccounts } from "~/server/account-list";
import { openInvites } from "~/server/invites";
import { labsOf } from "~/server/labs";
import { actionOrAway, unlessAway } from "~/app/when-away";
import type { Route } from "./+types/team";

export const meta = () => [{ title: "People and laboratories · Lapwing" }];

/** The laboratories of whoever asks, and for an administrator everybody's accounts. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const account = await requireAccount(request, context);
  const { store } = context;
  return {
    me: account.id,
    name: account.name,
    isDemo: account.isDemo,
    labs: account.isDemo ? [] : await labsOf(store, account.id),
    accounts: account.isAdmin ? await listAccounts(store) : null,
    invites: account.isAdmin ? await openInvites(store) : [],
    sendsMail: context.mailer !== null,
  };
}

const asked = yup.object({ do: yup.string().required() });

/** Does what is asked; gives why it was not done, or the address of a link that was made and to whom it was mailed. */
export async function action({ request, context }: Route.ActionArgs) {
  const account = await requireAccount(request, context);
  const refused = (reason: string) => data({ reason }, { status: 422 });
  if (account.isDemo) return refused("In a demo everyone is the same person: there is nobody to work with.");
  const sent = await readJson(request, asked);
  const deed = sent && Object.hasOwn(teamDeeds, sent.do) ? teamDeeds[sent.do] : undefined;
  if (deed?.admins && !account.isAdmin) throw data(null, { status: 404 });
  const done = deed ? await deed.does(sent, { account, request, context }) : null;
  if (!done) return refused("This request cannot be read.");
  return done.reason === undefined ? done : refused(done.reason);
}

export const clientAction = actionOrAway;
export const shouldRevalidate = unlessAway;

export default function Team({ loaderData }: Route.ComponentProps) {
  const { accounts, name: mine } = loaderData;
  return (
    <div className="min-h-dvh">
      <Strip beside={<span className="font-serif text-[18px]">People and laboratories</span>}>
        <AccountMenu name={mine} />
      </Strip>
      <main className="mx-auto grid max-w-[1000px] gap-10 px-4 pb-12 pt-6">
        {loaderData.isDemo && (
          <p className="text-muted">
            In a demo everyone is the same person, so there is nobody to invite and nothing to share.
          </p>
        )}
        {accounts && <AccountList {...loaderData} accounts={accounts} />}
        {!loaderData.isDemo && <LabList labs={loaderData.labs} me={loaderData.me} />}
      </main>
    </div>
  );
}

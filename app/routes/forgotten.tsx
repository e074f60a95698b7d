import { data, Form, Link } from "react-router";
import * as yup from "yup";
import { Button } from "~/app/components/button";
import { Field } from "~/app/components/field";
import { Plain } from "~/app/components/plain-page";
import { readForm } from "~/app/form.server";
import { originOf } from "~/app/account.server";
import { newEmail } from "~/app/people/new-account";
import { orAway, unlessAway } from "~/app/when-away";
import { accountByEmail } from "~/server/accounts";
import { forgotten, inviteDays } from "~/server/invites";
import { PaceKeeper } from "~/server/pace";
import type { Route } from "./+types/forgotten";

export const meta = () => [{ title: "Password forgotten · Lapwing" }];

export const loader = ({ context }: Route.LoaderArgs) => ({ sendsMail: context.mailer !== null });

const schema = yup.object({ email: newEmail });
/** So often one computer may ask for a mail, and so many mails may go to one address. */
const asking = {
  computer: new PaceKeeper({ burst: 10, perSecond: 1 / 60 }),
  address: new PaceKeeper({ burst: 3, perSecond: 1 / 600 }),
};

/** Mails a link for a new password, where there is such an account; says the same in either case. */
export async function action({ request, context }: Route.ActionArgs) {
  const { store, mailer } = context;
  const form = await readForm(request, schema);
  if (!form.ok) return data({ problem: form.problems.email ?? null, says: null }, { status: 400 });
  if (!mailer)
    return data({ problem: "This Lapwing sends no mail. Ask an administrator.", says: null }, { status: 400 });
  const email = form.values.email.toLowerCase();
  const now = performance.now();
  if (!asking.computer.allows(context.clientAddress, now))
    return data(
      { problem: "Too many tries from this computer. Wait a while, then try again.", says: null },
      { status: 429 },
    );
  const account = asking.address.allows(email, now) ? await accountByEmail(store, email) : null;
  if (account && !account.isDemo && !account.isClosed) {
    const secret = await forgotten(store, account, account.name);
    const address = `${originOf(request, context)}/invited/${secret}`;
    // Not waited for: how long it takes tells whether there is such an account.
    void mailer.send({
      to: account.email,
      subject: "A new password for Lapwing",
      text: `Somebody, probably you, asked for a new password for this address.\n\nSet it here, within ${inviteDays.password} days:\n${address}\n\nIf it was not you, there is nothing to do: your password stays as it is.\n`,
    });
  }
  return { problem: null, says: `If there is an account ${email}, a link was mailed to it just now.` };
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function Forgotten({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <Plain title="Password forgotten">
      {actionData?.says ? (
        <p role="status">{actionData.says}</p>
      ) : loaderData.sendsMail ? (
        <Form method="post" className="grid gap-3">
          <Field
            label="E-mail address"
            name="email"
            type="email"
            autoComplete="username"
            problem={actionData?.problem ?? undefined}
          />
          <Button type="submit" look="primary" className="!h-9">
            Mail me a link
          </Button>
        </Form>
      ) : (
        <p>
          Ask an administrator of this Lapwing: they make a link by which you set a new one. An administrator who has
          nobody to ask sets it on the server, with{" "}
          <code className="font-mono text-sm">./lapwing account password</code>.
        </p>
      )}
      <p>
        <Link to="/sign-in" className="font-semibold text-plumage">
          Back to signing in
        </Link>
      </p>
    </Plain>
  );
}

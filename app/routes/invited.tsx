import { data, Form, redirect } from "react-router";
import * as yup from "yup";
import { signedInCookie, signingIn } from "~/app/account.server";
import { Button } from "~/app/components/button";
import { Field } from "~/app/components/field";
import { Plain } from "~/app/components/plain-page";
import { readForm } from "~/app/form.server";
import { newEmail, newName, newPassword } from "~/app/people/new-account";
import { orAway, unlessAway } from "~/app/when-away";
import { leastPassword } from "~/core/shape/password";
import { acceptForgotten, acceptInvite, inviteOf } from "~/server/invites";
import type { Route } from "./+types/invited";

export const meta = () => [{ title: "Lapwing" }];

/** What a link that works once is for; null for one that works no more. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const invite = await inviteOf(context.store, params.secret);
  if (!invite) return data({ invite: null }, { status: 404 });
  return { invite: { kind: invite.kind, email: invite.email, by: invite.by } };
}

const account = yup.object({ name: newName, email: newEmail, password: newPassword });
const password = yup.object({ password: newPassword });
const nothing = { problems: {} as Record<string, string>, reason: null as string | null };

/** Makes the account, or sets the password anew, and signs in. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const { store } = context;
  const { secret } = params;
  const where = signingIn(request, context);
  const isNew = (await inviteOf(store, secret))?.kind === "account";
  const form = await (isNew ? readForm(request, account) : readForm(request, password));
  if (!form.ok) return data({ ...nothing, problems: form.problems }, { status: 400 });
  const { name = "", email = "", password: chosen }: { name?: string; email?: string; password: string } = form.values;
  const result = isNew
    ? await acceptInvite(store, secret, { name, email, password: chosen }, where)
    : await acceptForgotten(store, secret, chosen, where);
  if (result.ok) return redirect("/studies", { headers: { "Set-Cookie": signedInCookie(request, result.secret) } });
  // The password is set; a code of an app is asked for where one signs in.
  if (result.needsCode) return redirect("/sign-in");
  return data({ ...nothing, reason: result.reason }, { status: 400 });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function Invited({ loaderData: { invite }, actionData }: Route.ComponentProps) {
  if (!invite)
    return (
      <Plain title="This link works no more">
        <p>It was used already, taken back, or is too old. Ask whoever gave it to you for a new one.</p>
      </Plain>
    );
  const isNew = invite.kind === "account";
  return (
    <Plain title={isNew ? "Your account" : "A new password"}>
      <p>{isNew ? `${invite.by} invites you to work here.` : `For ${invite.email}.`}</p>
      <Form method="post" className="grid gap-3">
        {actionData?.reason && (
          <p role="alert" className="text-alarm">
            {actionData.reason}
          </p>
        )}
        {isNew && (
          <>
            <Field label="Name" name="name" autoComplete="name" maxLength={200} problem={actionData?.problems.name} />
            <Field
              label="E-mail address"
              name="email"
              type="email"
              autoComplete="username"
              defaultValue={invite.email}
              problem={actionData?.problems.email}
            />
          </>
        )}
        <Field
          label="Password"
          name="password"
          type="password"
          autoComplete="new-password"
          hint={isNew ? `At least ${leastPassword} characters.` : "All sign-ins of this account end."}
          problem={actionData?.problems.password}
        />
        <Button type="submit" look="primary" className="!h-9">
          {isNew ? "Create account" : "Set the password"}
        </Button>
      </Form>
    </Plain>
  );
}

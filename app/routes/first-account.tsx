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
import { createFirstAccount, hasAccounts } from "~/server/accounts";
import type { Route } from "./+types/first-account";

export const meta = () => [{ title: "First account · Lapwing" }];

export async function loader({ context }: Route.LoaderArgs) {
  if (await hasAccounts(context.store, context.isDemo)) throw redirect("/sign-in");
  return null;
}

const schema = yup.object({ name: newName, email: newEmail, password: newPassword });

export async function action({ request, context }: Route.ActionArgs) {
  const form = await readForm(request, schema);
  if (!form.ok) return data({ problems: form.problems, reason: null }, { status: 400 });
  const result = await createFirstAccount(
    context.store,
    form.values.email,
    form.values.name,
    form.values.password,
    signingIn(request, context),
  );
  if (!result.ok) return data({ problems: {} as Record<string, string>, reason: result.reason }, { status: 400 });
  return redirect("/studies", { headers: { "Set-Cookie": signedInCookie(request, result.secret) } });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function FirstAccount({ actionData }: Route.ComponentProps) {
  return (
    <Plain title="Create the first account">
      <p>This Lapwing is new. The account you create now is the first; your studies will belong to it.</p>
      <Form method="post" className="grid gap-3">
        {actionData?.reason && (
          <p role="alert" className="text-alarm">
            {actionData.reason}
          </p>
        )}
        <Field label="Name" name="name" autoComplete="name" problem={actionData?.problems.name} />
        <Field
          label="E-mail address"
          name="email"
          type="email"
          autoComplete="username"
          problem={actionData?.problems.email}
        />
        <Field
          label="Password"
          name="password"
          type="password"
          autoComplete="new-password"
          hint={`At least ${leastPassword} characters.`}
          problem={actionData?.problems.password}
        />
        <Button type="submit" look="primary" className="!h-9">
          Create account
        </Button>
      </Form>
    </Plain>
  );
}

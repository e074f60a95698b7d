import { data, Form, Link, redirect } from "react-router";
import * as yup from "yup";
import { accountOf, signedInCookie, signingIn } from "~/app/account.server";
import { Button, buttonClass } from "~/app/components/button";
import { Field } from "~/app/components/field";
import { Plain } from "~/app/components/plain-page";
import { readForm } from "~/app/form.server";
import { orAway, unlessAway } from "~/app/when-away";
import { demoAccount, hasAccounts, signIn } from "~/server/accounts";
import type { WhyNotProvided } from "~/server/provided";
import type { Route } from "./+types/sign-in";

export const meta = () => [{ title: "Sign in · Lapwing" }];

export async function loader({ request, context }: Route.LoaderArgs) {
  if (await accountOf(request, context)) throw redirect("/studies");
  if (!(await hasAccounts(context.store, context.isDemo))) throw redirect("/first-account");
  const why = new URL(request.url).searchParams.get("provider") ?? "";
  return {
    provider: context.provider?.name ?? null,
    fromProvider: Object.hasOwn(fromProvider, why) ? fromProvider[why] : null,
    demo: context.isDemo && (await demoAccount(context.store)) !== null,
  };
}

/** What is said to somebody who comes back from the provider and is not signed in, by why. */
const fromProvider: Record<string, string> = {
  away: "The provider cannot be reached just now. Try again, or sign in with your password.",
  anew: "Signing in by the provider did not work. Try again.",
  unverified:
    "The provider does not say which e-mail address is yours. Sign in with your password, or ask an administrator.",
  unknown: "Nobody here has the address you have at the provider. An administrator can invite you.",
  another: "The account with your address belongs to somebody else at the provider. Ask an administrator.",
  closed: "Your account here is closed. An administrator can open it again.",
} satisfies Record<WhyNotProvided | "away" | "anew", string>;

const schema = yup.object({
  email: yup.string().required("Type your e-mail address."),
  password: yup.string().required("Type your password."),
  stays: yup.string().oneOf(["yes"]),
  code: yup.string().max(20),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = await readForm(request, schema);
  if (!form.ok) return data({ problems: form.problems, reason: null, needsCode: false }, { status: 400 });
  const result = await signIn(context.store, form.values.email, form.values.password, {
    ...signingIn(request, context),
    stays: form.values.stays === "yes",
    code: form.values.code ?? "",
  });
  if (!result.ok) {
    const needsCode = result.needsCode === true;
    return data({ problems: {} as Record<string, string>, reason: result.reason, needsCode }, { status: 400 });
  }
  return redirect("/studies", {
    headers: { "Set-Cookie": signedInCookie(request, result.secret, form.values.stays === "yes") },
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <Plain title="Sign in">
      {loaderData.demo && (
        <Form method="post" action="/look-around" className="grid gap-2 rounded-md border border-hairline bg-sheet p-4">
          <p>New here? The demo data hold a whole study: its design, 24 sessions and their results.</p>
          <Button type="submit" look="primary" className="!h-9">
            Look around with the demo data
          </Button>
        </Form>
      )}
      {loaderData.fromProvider && (
        <p role="alert" className="text-alarm">
          {loaderData.fromProvider}
        </p>
      )}
      {loaderData.provider && (
        <a href="/sign-in/provider" className={`${buttonClass("primary")} !h-9`}>
          Sign in with {loaderData.provider}
        </a>
      )}
      <Form method="post" className="grid gap-3">
        {actionData?.reason && (
          <p role="alert" className="text-alarm">
            {actionData.reason}
          </p>
        )}
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
          autoComplete="current-password"
          problem={actionData?.problems.password}
        />
        {actionData?.needsCode && (
          <Field label="Code of your app" name="code" inputMode="numeric" autoComplete="one-time-code" autoFocus />
        )}
        <label className="flex items-start gap-2 text-sm">
          <input type="checkbox" name="stays" value="yes" className="mt-1 accent-(--plumage)" />
          <span>
            Stay signed in on this computer
            <span className="block text-muted">For 30 days without use; otherwise for 12 hours.</span>
          </span>
        </label>
        <Button type="submit" className="!h-9">
          Sign in
        </Button>
        <p className="text-sm">
          <Link to="/forgotten" className="text-muted underline hover:text-ink">
            Password forgotten
          </Link>
        </p>
      </Form>
    </Plain>
  );
}

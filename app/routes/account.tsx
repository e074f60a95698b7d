import { useState } from "react";
import { data, Form, redirect } from "react-router";
import { renderSVG } from "uqr";
import * as yup from "yup";
import { requireAccount, secretOf, signedOutCookie } from "~/app/account.server";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Field } from "~/app/components/field";
import { AccountMenu, Strip } from "~/app/components/strip";
import { readForm } from "~/app/form.server";
import { leastPassword, mostPassword } from "~/core/shape/password";
import { newName } from "~/app/people/new-account";
import { orAway, unlessAway } from "~/app/when-away";
import { renameAccount } from "~/server/account-list";
import { changePassword, isPassword } from "~/server/accounts";
import { endSignIns, listSignIns } from "~/server/sign-ins";
import { hasFactor, newFactor, removeFactor, setFactor } from "~/server/second-factor";
import type { Route } from "./+types/account";

export const meta = () => [{ title: "Your account · Lapwing" }];

export async function loader({ request, context }: Route.LoaderArgs) {
  const { id, name, email, isDemo } = await requireAccount(request, context);
  const all = await listSignIns(context.store, id, secretOf(request));
  // Everyone who looks around in a demo has the same account, and no business with the others.
  const asksForCode = await hasFactor(context.store, id);
  const offered = isDemo || asksForCode ? null : newFactor(email);
  return {
    ...{ name, email, isDemo, asksForCode },
    // Made anew each time the page is loaded; it counts once a code shows that the app has it.
    factor: offered && { ...offered, scan: renderSVG(offered.address, { border: 2 }) },
    signIns: isDemo ? all.filter(({ isThis }) => isThis) : all,
  };
}

const passwords = yup.object({
  present: yup.string().required("Type your present password."),
  fresh: yup
    .string()
    .required("Choose a new password.")
    .min(leastPassword, `Use at least ${leastPassword} characters.`)
    .max(mostPassword, `Use at most ${mostPassword} characters.`),
});
const ending = yup.object({ end: yup.string().required() });
const naming = yup.object({ name: newName });
const adding = yup.object({
  secret: yup.string().required().max(100),
  code: yup.string().required("Type the code your app shows."),
});
const removing = yup.object({ own: yup.string().required("Type your password.") });
const nothing = { problems: {} as Record<string, string>, reason: null as string | null, says: null as string | null };

export async function action({ request, context }: Route.ActionArgs) {
  const account = await requireAccount(request, context);
  const { store } = context;
  const secret = secretOf(request);
  const what = new URL(request.url).searchParams.get("do");
  const wrongIn = (problems: Record<string, string>) => data({ ...nothing, problems }, { status: 400 });
  if (what !== "end" && account.isDemo)
    return data({ ...nothing, reason: "The demo’s account has no password, and stays as it is." }, { status: 400 });
  if (what === "name") {
    const form = await readForm(request, naming);
    if (!form.ok) return wrongIn(form.problems);
    await renameAccount(store, account.id, form.values.name);
    return { ...nothing, says: "Your name is changed." };
  }
  if (what === "code") {
    const form = await readForm(request, adding);
    if (!form.ok) return wrongIn(form.problems);
    const wrong = await setFactor(store, account.id, form.values.secret, form.values.code);
    if (wrong !== null) return wrongIn({ code: wrong });
    return { ...nothing, says: "From now on a code of your app is asked for when you sign in." };
  }
  if (what === "no-code") {
    const form = await readForm(request, removing);
    if (!form.ok) return wrongIn(form.problems);
    const checked = await isPassword(store, account, form.values.own, { from: context.clientAddress });
    if (!checked.ok) return wrongIn({ own: checked.reason });
    await removeFactor(store, account.id);
    return { ...nothing, says: "A code is no longer asked for." };
  }
  if (what === "end") {
    if (account.isDemo)
      return data({ ...nothing, reason: "In a demo sign-ins are ended by signing out." }, { status: 400 });
    const form = await readForm(request, ending);
    if (!form.ok) return data({ ...nothing, problems: form.problems }, { status: 400 });
    await endSignIns(store, account.id, form.values.end === "others" ? { allBut: secret } : { id: form.values.end });
    const isOut = (await listSignIns(store, account.id, secret)).every(({ isThis }) => !isThis);
    if (isOut) throw redirect("/sign-in", { headers: { "Set-Cookie": signedOutCookie() } });
    return { ...nothing, says: "Ended." };
  }
  const form = await readForm(request, passwords);
  if (!form.ok) return data({ ...nothing, problems: form.problems }, { status: 400 });
  const changed = await changePassword(store, account, form.values.present, form.values.fresh, {
    from: context.clientAddress,
    secret,
  });
  if (!changed.ok) return data({ ...nothing, reason: changed.reason }, { status: 400 });
  return { ...nothing, says: "The password is changed. You are signed in here only." };
}

const cell = "border-b border-hairline py-1.5 pr-4 align-top";

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function AccountPage({ loaderData, actionData }: Route.ComponentProps) {
  const { name, email, isDemo, signIns, factor, asksForCode } = loaderData;
  return (
    <div className="flex min-h-dvh flex-col">
      <Strip beside={<span className="font-serif text-[18px]">Your account</span>}>
        <AccountMenu name={name} />
      </Strip>
      <main className="mx-auto grid w-full max-w-[860px] gap-8 px-4 py-8">
        <header>
          <h1 className="font-serif text-[30px] leading-9">{name}</h1>
          <p className="text-muted">{email}</p>
        </header>
        {actionData?.says && <p role="status">{actionData.says}</p>}
        {actionData?.reason && (
          <p role="alert" className="text-alarm">
            {actionData.reason}
          </p>
        )}
        {!isDemo && (
          <section aria-labelledby="name" className="max-w-[420px]">
            <h2 id="name" className="mb-3 font-serif text-[22px]">
              Name
            </h2>
            <Form method="post" action="?do=name" className="grid gap-3">
              <Field
                label="Your name, as colleagues see it"
                name="name"
                autoComplete="name"
                defaultValue={name}
                maxLength={200}
                problem={actionData?.problems.name}
              />
              <Button type="submit" className="!h-9 justify-self-start">
                Change name
              </Button>
            </Form>
          </section>
        )}
        {!isDemo && (
          <section aria-labelledby="password" className="max-w-[420px]">
            <h2 id="password" className="mb-3 font-serif text-[22px]">
              Password
            </h2>
            <Form method="post" className="grid gap-3">
              <Field
                label="Present password"
                name="present"
                type="password"
                autoComplete="current-password"
                problem={actionData?.problems.present}
              />
              <Field
                label="New password"
                name="fresh"
                type="password"
                autoComplete="new-password"
                hint={`At least ${leastPassword} characters. All other sign-ins end.`}
                problem={actionData?.problems.fresh}
              />
              <Button type="submit" className="!h-9 justify-self-start">
                Change password
              </Button>
            </Form>
          </section>
        )}
        {!isDemo && <SecondFactor key={String(asksForCode)} factor={factor} problems={actionData?.problems ?? {}} />}
        <section aria-labelledby="sign-ins">
          <div className="mb-2 flex items-baseline justify-between">
            <h2 id="sign-ins" className="font-serif text-[22px]">
              Signed in
            </h2>
            {signIns.length > 1 && (
              <Form method="post" action="?do=end">
                <Button type="submit" name="end" value="others">
                  End all others
                </Button>
              </Form>
            )}
          </div>
          <table className="w-full text-left text-sm">
            <thead>
              <tr className="border-b border-ink text-xs text-muted">
                <th scope="col">Browser</th>
                <th scope="col">From</th>
                <th scope="col">Since</th>
                <th scope="col">Last used</th>
                <th scope="col">Ends</th>
                <th scope="col" aria-label="End it" />
              </tr>
            </thead>
            <tbody>
              {signIns.map((each) => (
                <tr key={each.id}>
                  <td className={`${cell} max-w-[300px]`}>
                    {each.isThis && <b>This one. </b>}
                    <span className="line-clamp-2 text-muted" title={each.browser}>
                      {each.browser || "not known"}
                    </span>
                  </td>
                  <td className={`${cell} font-mono text-xs`}>{each.from || "not known"}</td>
                  <td className={cell}>
                    <When iso={each.since} form="moment" />
                  </td>
                  <td className={cell}>
                    <When iso={each.seenAt} form="moment" />
                  </td>
                  <td className={cell}>after {each.stays ? "30 days" : "12 hours"} without use</td>
                  <td className={`${cell} pr-0 text-right`}>
                    <Form method="post" action="?do=end" hidden={isDemo}>
                      <Button type="submit" look="quiet" name="end" value={each.id}>
                        End
                      </Button>
                    </Form>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      </main>
    </div>
  );
}

type Offered = Route.ComponentProps["loaderData"]["factor"];

/** A code of an app that is asked for beside the password: taking it into use, or no longer. */
function SecondFactor({ factor, problems }: { factor: Offered; problems: Record<string, string> }) {
  // The one that was scanned stays, whatever is sent meanwhile.
  const [offered] = useState(factor);
  return (
    <section aria-labelledby="second" className="max-w-[560px]">
      <h2 id="second" className="mb-1 font-serif text-[22px]">
        A code as well as the password
      </h2>
      {offered ? (
        <>
          <p className="mb-3 text-muted">
            If you like, an app on your phone shows a code that is asked for each time you sign in. Scan this with it,
            then type the code it shows.
          </p>
          <Form method="post" action="?do=code" className="grid grid-cols-[150px_1fr] gap-5">
            <div
              role="img"
              aria-label="The secret as a code to scan"
              className="size-[150px] rounded-md bg-white"
              dangerouslySetInnerHTML={{ __html: offered.scan }}
            />
            <div className="grid content-start gap-3">
              <p className="text-sm text-muted">
                Or type this into it: <code className="select-all break-all font-mono text-xs">{offered.secret}</code>
              </p>
              <input type="hidden" name="secret" value={offered.secret} />
              <Field
                label="Code"
                name="code"
                inputMode="numeric"
                autoComplete="one-time-code"
                problem={problems.code}
              />
              <Button type="submit" className="!h-9 justify-self-start">
                Ask for a code from now on
              </Button>
            </div>
          </Form>
        </>
      ) : (
        <Form method="post" action="?do=no-code" className="grid max-w-[420px] gap-3">
          <p className="text-muted">
            A code of your app is asked for when you sign in. If you lose the app, an administrator can turn this off
            for you.
          </p>
          <Field
            label="Your password"
            name="own"
            type="password"
            autoComplete="current-password"
            problem={problems.own}
          />
          <Button type="submit" className="!h-9 justify-self-start">
            Stop asking for a code
          </Button>
        </Form>
      )}
    </section>
  );
}

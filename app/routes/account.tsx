import { data, Form, redirect } from "react-router";
import * as yup from "yup";
import { requireAccount, secretOf, signedOutCookie } from "~/app/account.server";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Field } from "~/app/components/field";
import { AccountMenu, Strip } from "~/app/components/strip";
import { readForm } from "~/app/form.server";
import { leastPassword, mostPassword } from "~/core/shape/password";
import { changePassword, endSignIns, listSignIns } from "~/server/accounts";
import type { Route } from "./+types/account";

export const meta = () => [{ title: "Your account · Lapwing" }];

export async function loader({ request, context }: Route.LoaderArgs) {
  const { id, name, email, isDemo } = await requireAccount(request, context);
  const all = await listSignIns(context.store, id, secretOf(request));
  // Everyone who looks around in a demo has the same account, and no business with the others.
  return { name, email, isDemo, signIns: isDemo ? all.filter(({ isThis }) => isThis) : all };
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
const nothing = { problems: {} as Record<string, string>, reason: null as string | null, done: null as string | null };

export async function action({ request, context }: Route.ActionArgs) {
  const account = await requireAccount(request, context);
  const { store } = context;
  const secret = secretOf(request);
  if (new URL(request.url).searchParams.get("do") === "end") {
    if (account.isDemo)
      return data({ ...nothing, reason: "In a demo sign-ins are ended by signing out." }, { status: 400 });
    const form = await readForm(request, ending);
    if (!form.ok) return data({ ...nothing, problems: form.problems }, { status: 400 });
    await endSignIns(store, account.id, form.values.end === "others" ? { allBut: secret } : { id: form.values.end });
    const isOut = (await listSignIns(store, account.id, secret)).every(({ isThis }) => !isThis);
    if (isOut) throw redirect("/sign-in", { headers: { "Set-Cookie": signedOutCookie() } });
    return { ...nothing, done: "Ended." };
  }
  if (account.isDemo) return data({ ...nothing, reason: "The demo's account has no password." }, { status: 400 });
  const form = await readForm(request, passwords);
  if (!form.ok) return data({ ...nothing, problems: form.problems }, { status: 400 });
  const changed = await changePassword(store, account, form.values.present, form.values.fresh, {
    from: context.clientAddress,
    secret,
  });
  if (!changed.ok) return data({ ...nothing, reason: changed.reason }, { status: 400 });
  return { ...nothing, done: "The password is changed. You are signed in here only." };
}

const cell = "border-b border-hairline py-1.5 pr-4 align-top";

export default function AccountPage({ loaderData, actionData }: Route.ComponentProps) {
  const { name, email, isDemo, signIns } = loaderData;
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
        {actionData?.done && <p role="status">{actionData.done}</p>}
        {actionData?.reason && (
          <p role="alert" className="text-alarm">
            {actionData.reason}
          </p>
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

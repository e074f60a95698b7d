import { data, Form, Link, redirect } from "react-router";
import * as yup from "yup";
import { accountOf, computerCookieOf, computerOf, noComputerCookie, requireAccount } from "~/app/account.server";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Plain } from "~/app/components/plain-page";
import { Field } from "~/app/components/field";
import { readForm } from "~/app/form.server";
import { KeyAsked } from "~/app/laboratory/key-asked";
import { orAway, unlessAway } from "~/app/when-away";
import { mayDo } from "~/core/rights/rights";
import { leastKey, mostKey } from "~/core/shape/password";
import { enrol, lastTest, lockList, openList } from "~/server/lab-computers";
import { findStudy } from "~/server/studies";
import { listStudies, studiesNamed } from "~/server/study-list";
import { whoIs } from "~/server/study-log";
import type { Route } from "./+types/lab-computer";

export const meta = () => [{ title: "Laboratory · Lapwing" }];

/** What this computer may start; where it is no laboratory’s computer, the studies for which whoever is signed in can enrol it. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { store } = context;
  const computer = await computerOf(request, context);
  if (computer) {
    const { name, isLocked } = computer;
    if (isLocked) return { kind: "locked" as const, name };
    const studies = await studiesNamed(store, computer.studies);
    return { kind: "computer" as const, name, tested: await lastTest(store.db, computer.id), studies };
  }
  const account = await requireAccount(request, context);
  const studies = (await listStudies(store, account.id))
    .filter(({ roles, binnedAt }) => binnedAt === null && mayDo(roles, "hand-out"))
    .map(({ code, title }) => ({ code, title }));
  return { kind: "none" as const, studies };
}

const enrolling = yup.object({
  name: yup.string().trim().required("Say how this computer is called, such as Laboratory 2.").max(60),
  key: yup
    .string()
    .trim()
    .required("Choose a key for the assistants.")
    .min(leastKey, `Use at least ${leastKey} characters.`)
    .max(mostKey, `Use at most ${mostKey} characters.`),
  studies: yup.string().required("Choose at least one study."),
});
const nothing = { problems: {} as Record<string, string> };

/** Enrols this computer, opens its list with the key, or closes it. */
export async function action({ request, context }: Route.ActionArgs) {
  const { store } = context;
  const what = new URL(request.url).searchParams.get("do");
  const computer = await computerOf(request, context);
  const wrong = (problems: Record<string, string>) => data({ problems }, { status: 400 });
  if (what === "open" || what === "close") {
    if (!computer) return wrong({ key: "This computer is not enrolled." });
    if (what === "close") {
      await lockList(store, computer);
      return nothing;
    }
    const form = await readForm(request, yup.object({ key: yup.string().required("Type the key.") }));
    if (!form.ok) return wrong(form.problems);
    const refused = await openList(store, computer, form.values.key.trim());
    return refused === null ? nothing : wrong({ key: refused });
  }
  if (what === "forget") {
    // Only whoever could enrol it anew, or has the key, sits before an open list.
    if (!computer || computer.isLocked) return wrong({ key: "Type the key first." });
    return redirect("/sign-in", { headers: { "Set-Cookie": noComputerCookie() } });
  }
  const account = await accountOf(request, context);
  if (!account) return redirect("/sign-in");
  const form = await readForm(request, enrolling);
  if (!form.ok) return wrong(form.problems);
  const { name, key } = form.values;
  const studies = await Promise.all(
    form.values.studies
      .split(" ")
      .slice(0, 100)
      .map((code) => findStudy(store, account.id, code)),
  );
  const mine = studies.flatMap((study) => (study && mayDo(study.roles, "hand-out") ? [study] : []));
  if (mine.length === 0) return wrong({ studies: "Choose at least one study." });
  const secret = await enrol(store, mine, { name, key, account: account.id, by: whoIs(account) });
  return redirect("/laboratory", { headers: { "Set-Cookie": computerCookieOf(request, secret) } });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => orAway(serverAction);
export const shouldRevalidate = unlessAway;

export default function LabComputer({ loaderData, actionData }: Route.ComponentProps) {
  if (loaderData.kind === "locked") return <KeyAsked computer={loaderData.name} />;
  if (loaderData.kind === "none") return <Enrol studies={loaderData.studies} problems={actionData?.problems ?? {}} />;
  const { name, tested, studies } = loaderData;
  return (
    <Plain title={name}>
      <p className="text-muted">
        {tested === null ? (
          "This computer was not tested yet."
        ) : (
          <>
            Tested <When iso={tested.at} form="moment" />. {tested.verdict}
          </>
        )}{" "}
        <a href="/self-test" className="whitespace-nowrap font-semibold text-plumage">
          Test it
        </a>
      </p>
      <ul className="grid gap-2">
        {studies.map(({ code, title }) => (
          <li key={code}>
            <Link
              to={`/studies/${code}/laboratory`}
              className="block rounded-md border border-hairline bg-sheet px-3 py-2 hover:border-plumage"
            >
              <span className="block font-serif text-[17px]">{title}</span>
              <span className="font-mono text-xs text-muted">{code}</span>
            </Link>
          </li>
        ))}
      </ul>
      {studies.length === 0 && <p>It may no longer start any study.</p>}
      <div className="flex gap-2">
        <Form method="post" action="?do=close">
          <Button type="submit">Close the list</Button>
        </Form>
        <Form method="post" action="?do=forget">
          <Button type="submit" look="quiet">
            Stop using it in the laboratory
          </Button>
        </Form>
      </div>
    </Plain>
  );
}

function Enrol({
  studies,
  problems,
}: {
  studies: { code: string; title: string }[];
  problems: Record<string, string>;
}) {
  return (
    <Plain title="Enrol this computer">
      <p>
        Then assistants start sessions of these studies here, without anybody’s password. It can do nothing else: no
        results, no designs. When a session is over, the list opens with the assistants’ key.
      </p>
      <Form
        method="post"
        className="grid gap-3"
        onSubmit={(event) => {
          const form = event.currentTarget;
          const chosen = [...form.querySelectorAll<HTMLInputElement>("[data-study]:checked")];
          const field = form.elements.namedItem("studies") as HTMLInputElement;
          field.value = chosen.map(({ value }) => value).join(" ");
        }}
      >
        <input type="hidden" name="studies" defaultValue="" />
        <Field
          label="Name of the computer"
          name="name"
          placeholder="Laboratory 2"
          maxLength={60}
          problem={problems.name}
        />
        <Field
          label="The assistants’ key"
          name="key"
          autoComplete="off"
          maxLength={mostKey}
          hint={`At least ${leastKey} characters. Participants should not know it.`}
          problem={problems.key}
        />
        <fieldset className="grid gap-1">
          <legend className="pb-1 text-sm font-semibold">Studies it may start</legend>
          {studies.map(({ code, title }) => (
            <label key={code} className="flex items-baseline gap-2">
              <input type="checkbox" data-study value={code} className="accent-(--plumage)" />
              <span>
                {title} <span className="font-mono text-xs text-muted">{code}</span>
              </span>
            </label>
          ))}
          {studies.length === 0 && <p className="text-muted">You have no study whose sessions you may hand out.</p>}
          {problems.studies && <p className="text-sm text-alarm">{problems.studies}</p>}
        </fieldset>
        <Button type="submit" look="primary" className="!h-9" disabled={studies.length === 0}>
          Enrol this computer
        </Button>
        <p className="text-sm text-muted">Sign out afterwards, so that nobody works here in your name.</p>
      </Form>
    </Plain>
  );
}

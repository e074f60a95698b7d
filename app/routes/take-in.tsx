import { FileUp, PackagePlus } from "lucide-react";
import { useState } from "react";
import { Form, Link, data, redirect, useNavigation } from "react-router";
import * as yup from "yup";
import { requireAccount } from "~/app/account.server";
import { Button, buttonClass } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Tick } from "~/app/components/fields";
import { AccountMenu, Strip } from "~/app/components/strip";
import { readForm } from "~/app/form.server";
import { actionOrAway, unlessAway } from "~/app/when-away";
import { arrivedAt, forgetArrived, receiveArrived } from "~/server/moving/arrived";
import { fatesInWords, takeInInWords } from "~/server/moving/in-words";
import type { TakenIn } from "~/server/moving/take-in";
import { whoIs } from "~/server/study-log";
import type { Route } from "./+types/take-in";

export const meta = () => [{ title: "Take in data · Lapwing" }];

/** What the page tells of a file. */
const told = (taken: TakenIn) =>
  taken.ok
    ? {
        reason: null,
        code: taken.report.study.code,
        title: taken.report.study.title,
        made: taken.report.made,
        hasCodes: taken.report.codes.there && taken.report.sessions.new > 0,
        sentences: takeInInWords(taken.report),
        sessions: taken.report.told.map(({ fate, ...session }) => ({ ...session, fate: fatesInWords[fate] })),
        isWritten: taken.report.isWritten,
      }
    : { reason: taken.reason };
type Told = ReturnType<typeof told>;

/** What the action says, where the server could be reached. */
type Done = { told: Told | null };

const gone = "This file is not here any longer: it is kept for an hour. Choose it again on the page of studies.";

type Args = Pick<Route.LoaderArgs, "request" | "context">;
const nameIn = (request: Request) => new URL(request.url).searchParams.get("file") ?? "";

async function ask(
  { request, context }: Args,
  { write, codes }: { write: boolean; codes: boolean },
): Promise<{ name: string; told: Told | null }> {
  const account = await requireAccount(request, context);
  const file = nameIn(request);
  if (file === "") return { name: account.name, told: null };
  const path = arrivedAt(context.store.media, account.id, file);
  if (path === null || !(await context.store.media.isIncoming(path)))
    return { name: account.name, told: { reason: gone } };
  const taken = await context.moving.takeIn(path, {
    ...{ account: { id: account.id }, by: whoIs(account), owner: account.id },
    ...{ write, codes },
  });
  if (write && taken.ok) await forgetArrived(path);
  return { name: account.name, told: told(taken) };
}

/** What taking in the file `?file=NAME` would do; nothing is written. */
export const loader = (args: Route.LoaderArgs) => ask(args, { write: false, codes: false });

/** Takes a data file of another installation, which is looked at first; then takes it in, or leaves it. */
export async function action(args: Route.ActionArgs) {
  const { request, context } = args;
  const account = await requireAccount(request, context);
  const { media } = context.store;
  const file = nameIn(request);
  if (file === "") {
    const name = await receiveArrived(request, media, account.id);
    if (name !== null) return redirect(`/take-in?file=${name}`);
    return data<Done>({ told: { reason: "Choose a file ending in .lapwing-data.zip." } }, { status: 400 });
  }
  const form = await readForm(request, yup.object({ do: yup.string(), codes: yup.string() }));
  if (form.ok && form.values.do === "leave") {
    const path = arrivedAt(media, account.id, file);
    if (path !== null) await forgetArrived(path);
    return redirect("/studies");
  }
  const { told } = await ask(args, { write: true, codes: form.ok && form.values.codes === "yes" });
  return data<Done>({ told }, { status: told?.reason === null ? 200 : 409 });
}

export const clientAction = actionOrAway;
/** What it would do is asked once; when it is done the file is gone. */
export const shouldRevalidate = (args: Parameters<typeof unlessAway>[0]) =>
  args.formMethod !== undefined && args.currentUrl.search === args.nextUrl.search ? false : unlessAway(args);

export default function TakeInReport({ loaderData, actionData }: Route.ComponentProps) {
  const [codes, setCodes] = useState(false);
  const isBusy = useNavigation().state === "submitting";
  const report = (actionData as Partial<Done> | undefined)?.told ?? loaderData.told;
  return (
    <div className="min-h-dvh">
      <Strip beside={<span className="font-serif text-[18px]">Lapwing</span>}>
        <AccountMenu name={loaderData.name} />
      </Strip>
      <main className="mx-auto grid max-w-[860px] gap-4 px-4 pb-10 pt-6">
        <h1 className="font-serif text-[30px] leading-9">Data from another installation</h1>
        {report === null ? (
          <ChooseFile />
        ) : report.reason !== null ? (
          <section role="alert" className="rounded-md border border-alarm bg-sheet p-4">
            <h2 className="font-semibold text-alarm">Nothing was taken in.</h2>
            <p className="mt-1">{report.reason}</p>
            <div className="mt-3 flex gap-2">
              <Link to="/take-in" className={buttonClass()}>
                Choose another file
              </Link>
            </div>
          </section>
        ) : (
          <section aria-label="What is in the file" className="rounded-md border border-hairline bg-sheet px-4 py-3">
            <h2 className="font-serif text-[20px]">{report.title}</h2>
            <p className="text-sm text-muted">
              The file was made <When iso={report.made} form="moment" />.
            </p>
            <ul className="mt-2 grid list-disc gap-1 pl-5" aria-live="polite">
              {report.sentences.map((sentence) => (
                <li key={sentence}>{sentence}</li>
              ))}
            </ul>
            {report.isWritten ? (
              <div className="mt-4 flex gap-2">
                <Link to={`/studies/${report.code}/collect`} className={buttonClass("primary")}>
                  Open the study
                </Link>
                <Link to="/studies" className={buttonClass()}>
                  Studies
                </Link>
              </div>
            ) : (
              <Form method="post" className="mt-4 grid gap-3">
                <p className="text-sm text-muted">Nothing has been written yet.</p>
                {report.hasCodes && (
                  <Tick checked={codes} onChange={setCodes}>
                    with the codes of participants, which lead back to them
                  </Tick>
                )}
                <input type="hidden" name="codes" value={codes ? "yes" : "no"} />
                <div className="flex gap-2">
                  <Button type="submit" name="do" value="take" look="primary" icon={PackagePlus} disabled={isBusy}>
                    {isBusy ? "Taking it in…" : "Take it in"}
                  </Button>
                  <Button type="submit" name="do" value="leave" disabled={isBusy}>
                    Leave it
                  </Button>
                </div>
              </Form>
            )}
          </section>
        )}
        {report?.reason === null && report.sessions.length > 0 && (
          <section aria-label="Sessions to look at" className="rounded-md border border-hairline bg-sheet">
            <h2 className="px-4 pt-3 font-serif text-[17px]">Sessions to look at</h2>
            <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Table of sessions to look at">
              <table className="mt-1 w-full border-collapse text-left text-sm">
                <thead>
                  <tr className="border-b border-hairline text-xs text-muted">
                    {["participant", "sitting", "", "what becomes of it"].map((head) => (
                      <th key={head} scope="col" className="px-4 py-1 font-semibold">
                        {head === "" ? <span className="sr-only">how it stands</span> : head}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {report.sessions.map(({ session, participant, sitting, fate, why }) => (
                    <tr key={session} className="border-b border-hairline align-top last:border-b-0">
                      <td className="px-4 py-1 tabular-nums">{participant || session}</td>
                      <td className="px-4 py-1 tabular-nums">{sitting || ""}</td>
                      <td className="whitespace-nowrap px-4 py-1">{fate}</td>
                      <td className="px-4 py-1">{why}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </section>
        )}
      </main>
    </div>
  );
}

function ChooseFile() {
  const isBusy = useNavigation().state !== "idle";
  return (
    <Form
      method="post"
      encType="multipart/form-data"
      className="grid gap-3 rounded-md border border-hairline bg-sheet p-4"
    >
      <p>
        A study with its sessions that another installation gave out (Results, Export, “For another installation of
        Lapwing”). What taking it in does is told before anything is written.
      </p>
      <input type="file" name="file" accept=".zip" required aria-label="Data file" />
      <div>
        <Button type="submit" look="primary" icon={FileUp} disabled={isBusy}>
          {isBusy ? "Reading the file…" : "Look at it"}
        </Button>
      </div>
    </Form>
  );
}

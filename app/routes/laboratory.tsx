import { data, Link } from "react-router";
import { requireLaboratory } from "~/app/study-access.server";
import { KeyAsked } from "~/app/laboratory/key-asked";
import { LabDesk } from "~/app/laboratory/lab-desk";
import { Strip } from "~/app/components/strip";
import { lastTest } from "~/server/lab-computers";
import { labList } from "~/server/laboratory";
import { unlessAway } from "~/app/when-away";
import type { Route } from "./+types/laboratory";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.title ?? "Laboratory"} · Laboratory` },
];

/** The laboratory's list of a study; nothing of it while the list is closed. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { study, computer, seesGroups } = await requireLaboratory(request, context, params.code);
  const { title } = study.document;
  if (computer?.isLocked) return data({ title, computer: computer.name, isLocked: true as const });
  const wave = new URL(request.url).searchParams.get("wave");
  return data({
    title,
    code: study.code,
    isLocked: false as const,
    computer: computer ? { name: computer.name, tested: await lastTest(context.store.db, computer.id) } : null,
    list: await labList(context.store, { id: study.id, title }, wave, seesGroups),
  });
}

export const shouldRevalidate = unlessAway;

export default function Laboratory({ loaderData }: Route.ComponentProps) {
  if (loaderData.isLocked) return <KeyAsked computer={loaderData.computer} />;
  const { title, code, computer } = loaderData;
  return (
    <div className="flex h-dvh flex-col small:h-auto">
      <Strip
        home={computer ? "/laboratory" : "/studies"}
        beside={
          <>
            <span className="truncate font-serif text-[18px]">{title}</span>
            <span className="font-mono text-xs text-muted narrow:hidden">{code}</span>
          </>
        }
      >
        <span className="text-sm text-muted">
          {computer ? (
            computer.name
          ) : (
            <Link to="/studies" className="hover:text-ink">
              Your studies
            </Link>
          )}
        </span>
      </Strip>
      <main className="min-h-0 flex-1">
        <LabDesk key={code} code={code} loaded={loaderData.list} computer={computer} />
      </main>
    </div>
  );
}

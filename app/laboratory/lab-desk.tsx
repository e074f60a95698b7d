import { NotebookPen } from "lucide-react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { When } from "~/app/components/dates";
import { usePolled } from "~/app/components/use-polled";
import { conditionColor } from "~/app/ribbon/palette";
import type { ListedComputer } from "~/server/lab-computers";
import type { LabLine, LabList } from "~/server/laboratory";
import { Devices } from "./devices";
import { SessionLog } from "./session-log";
import { StartSentence } from "./start-sentence";

const pollMs = 5000;
type Props = {
  code: string;
  loaded: LabList;
  /** The laboratory's computer that is used; null for somebody's own. */
  computer: { name: string; tested: ListedComputer["tested"] } | null;
};

/** Who takes part now: who is next and who is due, a start by number, and the log of sessions. */
export function LabDesk({ code, loaded, computer }: Props) {
  const [query, setQuery] = useSearchParams();
  const list = usePolled(`/studies/${code}/lab?${query.toString()}`, pollMs, loaded);
  const [chosen, setChosen] = useState<number | null>(null);
  const [session, setSession] = useState<string | null>(null);
  const { waves, wave, lines, due } = list;
  if (wave === null)
    return <p className="mt-24 text-center text-muted">Nothing is released yet, so that no session can be started.</p>;
  const present = waves.find(({ id }) => id === wave);
  const noted = lines.find((line) => line.session === session) ?? lines[0];
  return (
    <div className="grid h-full grid-cols-[minmax(400px,440px)_minmax(0,1fr)] small:h-auto small:grid-cols-1">
      <section
        aria-label="Who takes part now"
        className="flex min-w-0 flex-col gap-3 overflow-auto border-r border-hairline p-5 pt-4"
      >
        <div className="flex items-baseline justify-between gap-2">
          <h1 className="font-serif text-[17px] font-semibold">Who takes part now</h1>
          <span className="text-sm text-muted">
            {waves.length === 1 ? (
              present?.name
            ) : (
              <select
                aria-label="Wave"
                className="field !w-[180px]"
                value={wave}
                onChange={({ target }) => setQuery({ wave: target.value }, { replace: true })}
              >
                {waves.map(({ id, name, isOpen }) => (
                  <option key={id} value={id}>
                    {isOpen ? name : `${name} (not open)`}
                  </option>
                ))}
              </select>
            )}
          </span>
        </div>
        <StartSentence
          key={wave}
          code={code}
          list={list}
          wave={wave}
          chosen={chosen}
          onChoose={setChosen}
          on={computer?.name ?? "this computer"}
        />
        <Lines list={list} chosen={chosen} noted={noted?.session ?? null} onChoose={setChosen} onOpen={setSession} />
      </section>
      <div className="flex min-w-0 flex-col gap-4 overflow-auto p-5 pt-4">
        {computer && (
          <section aria-label="This computer" className="rounded-md border border-hairline bg-sheet p-3.5">
            <h2 className="font-serif text-[16px] font-semibold">{computer.name}</h2>
            <p className="flex flex-wrap items-baseline gap-x-3 text-sm text-muted">
              {computer.tested === null ? (
                <span>Not tested yet.</span>
              ) : (
                <span>
                  Tested <When iso={computer.tested.at} form="moment" />. {computer.tested.verdict}
                </span>
              )}
              <a href="/self-test" className="ml-auto font-semibold text-plumage">
                {computer.tested === null ? "Test it" : "Test again"}
              </a>
            </p>
          </section>
        )}
        <Devices />
        <Present lines={lines.filter(({ state }) => state === "active")} />
        {noted?.session && <SessionLog key={noted.session} code={code} line={noted} session={noted.session} />}
        {due.length === 0 && lines.length === 0 && (
          <p className="text-muted">Nobody was here yet. The first participant gets the number {list.next}.</p>
        )}
      </div>
    </div>
  );
}

type LinesProps = {
  list: LabList;
  chosen: number | null;
  noted: string | null;
  onChoose: (participant: number | null) => void;
  onOpen: (session: string) => void;
};

/** Who is next, who is due, and who was here. */
function Lines({ list, chosen, noted, onChoose, onOpen }: LinesProps) {
  const { due, lines, groups } = list;
  const heads = ["participant", ...(groups ? ["group"] : []), ...(list.hasSittings ? ["sitting"] : []), ""];
  const dot = (name: string | null) => {
    const at = groups?.findIndex((group) => group.name === name) ?? -1;
    return at < 0 ? null : (
      <span className="flex items-center gap-1.5">
        <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(at) }} />
        {name}
      </span>
    );
  };
  return (
    <table className="w-full border border-hairline bg-sheet text-left text-sm" data-lab-list>
      <thead>
        <tr className="h-8 border-b border-hairline text-xs text-muted">
          {heads.map((head) => (
            <th key={head} scope="col" className="px-3 font-semibold">
              {head || <span className="sr-only">how they stand</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr className={`h-[34px] border-b border-hairline ${chosen === null ? "bg-plumage-tint" : ""}`}>
          <td className="px-3 font-mono text-xs">
            <button type="button" className="underline underline-offset-2" onClick={() => onChoose(null)}>
              {list.next}
            </button>
          </td>
          {groups && <td />}
          {list.hasSittings && <td className="px-3 font-mono text-xs">1</td>}
          <td className="px-3 font-semibold">next</td>
        </tr>
        {due.map((line) => (
          <tr
            key={`due ${line.participant}`}
            className={`h-[34px] border-b border-hairline ${chosen === line.participant ? "bg-plumage-tint" : ""}`}
          >
            <td className="px-3 font-mono text-xs">
              <button type="button" className="underline underline-offset-2" onClick={() => onChoose(line.participant)}>
                {line.participant}
              </button>
            </td>
            {groups && <td className="px-3">{dot(line.group)}</td>}
            {list.hasSittings && <td className="px-3 font-mono text-xs">{line.sitting}</td>}
            <td className="px-3">
              due since <When iso={`${line.at}T12:00:00.000Z`} />
            </td>
          </tr>
        ))}
        {lines.map((line) => (
          <tr
            key={line.session}
            className={`h-[34px] border-b border-hairline last:border-b-0 ${line.session === noted ? "shadow-[inset_3px_0_0_var(--plumage)]" : ""}`}
          >
            <td className="px-3 font-mono text-xs">{line.participant}</td>
            {groups && <td className="px-3">{dot(line.group)}</td>}
            {list.hasSittings && <td className="px-3 font-mono text-xs">{line.sitting}</td>}
            <td className="px-3">
              <span className="flex items-center justify-between gap-2">
                <span>
                  {stateInWords(line)} <When iso={line.at} />
                </span>
                {line.session && (
                  <button
                    type="button"
                    title="Its log"
                    aria-label={`Log of participant ${line.participant}, sitting ${line.sitting}`}
                    className="text-muted hover:text-ink"
                    onClick={() => line.session && onOpen(line.session)}
                  >
                    <NotebookPen size={14} aria-hidden="true" />
                  </button>
                )}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const stateInWords = ({ state }: LabLine): string =>
  state === "active" ? "taking part, seen" : state === "withdrawn" ? "left the study" : state.replace("-", " ");

/** Those who take part just now, and how far each is. */
const Present = ({ lines }: { lines: LabLine[] }) => (
  <section aria-label="Taking part now" className="rounded-md border border-hairline bg-sheet p-3.5">
    <h2 className="font-serif text-[16px] font-semibold">Taking part now</h2>
    {lines.length === 0 && <p className="text-sm text-muted">Nobody.</p>}
    {lines.map((line) => (
      <p key={line.session} className="mt-1.5 flex items-center gap-3 text-sm">
        <span className="w-8 font-mono text-xs">{line.participant}</span>
        <span
          role="img"
          aria-label={`${line.trials} of ${line.trialsPlanned} trials`}
          className="h-2 flex-1 overflow-hidden rounded-[2px] bg-track"
        >
          <span
            className="block h-full bg-plumage"
            style={{ width: `${Math.min(100, (100 * line.trials) / Math.max(1, line.trialsPlanned))}%` }}
          />
        </span>
        <span className="text-muted">
          seen <When iso={line.at} form="time" />
        </span>
      </p>
    ))}
  </section>
);

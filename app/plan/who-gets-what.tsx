import { Check, TriangleAlert } from "lucide-react";
import { useDeferredValue, useMemo, useState } from "react";
import { useRouteLoaderData } from "react-router";
import { Choice } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { plannedAssignment } from "~/core/allocate/allocate";
import { schemeOf } from "~/core/allocate/scheme";
import { orderIn, spreadOf } from "~/core/balance/balance";
import type { BracketBalance } from "~/core/balance/counts";
import { keyLabel } from "~/core/devices/keys/keys";
import type { StudyDocument } from "~/core/design/document";
import { bracketsIn, partsFor } from "~/core/order/parts";
import { shortNames, type BracketNode } from "./plan-rows";

/** What the Plan screen knows of the newest release: participants that count in each cell. */
type Collected = { release: number; counts: Record<string, number> } | null;

/** More parts than these are told by their numbers in the bracket. */
const mostChips = 6;

const useCollected = (): Collected =>
  (useRouteLoaderData("routes/plan") as { collected: Collected } | undefined)?.collected ?? null;

const lengths = ["8", "12", "24", "48", "100"].map((count) => [count, `1 to ${count}`] as const);

/** The next participants with their group, the order of their parts and their seed, and what that comes to over many. */
export function WhoGetsWhat({ bracket }: { bracket?: BracketNode }) {
  const { code, document: current, view, look } = useStudy();
  const collected = useCollected();
  const document = useDeferredValue(current);
  const [count, setCount] = useState("8");
  const brackets = bracketsIn(document.runningOrder);
  const shown = brackets.find(({ id }) => id === bracket?.id) ?? brackets[0];
  const keys = document.groupValues.filter(({ type }) => type === "key");
  const letters = shown ? shortNames(shown.nodes.map((node) => nodeName(document, node))) : [];
  const lines = useMemo(
    () =>
      Array.from({ length: Number(count) }, (_, index) => {
        const participant = index + 1;
        const assignment = plannedAssignment(document, participant);
        const parts = partsFor(document, { ...assignment, participant, sitting: null });
        return { participant, group: assignment.group, order: shown ? orderIn(parts, shown) : [] };
      }),
    [document, count, shown],
  );
  return (
    <section className="mt-4" aria-label="Who gets what">
      <div className="flex items-center justify-between gap-2">
        <h3 className="text-xs font-semibold text-muted">Who gets what</h3>
        <span className="w-[104px]">
          <Choice label="Participants listed" value={count} options={lengths} onChange={setCount} />
        </span>
      </div>
      <table className="mt-1 w-full text-left text-sm">
        <thead>
          <tr className="h-6 border-b border-hairline text-xs text-muted">
            <th scope="col" className="px-1 font-normal">
              no.
            </th>
            <th scope="col" className="font-normal">
              group
            </th>
            <th scope="col" className="font-normal">
              {shown ? "order" : keys.map(({ name }) => name).join(" ")}
            </th>
            <th scope="col" className="px-1 text-right font-normal">
              seed
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ participant, group, order }) => {
            const at = document.groups.findIndex(({ id }) => id === group);
            return (
              <tr
                key={participant}
                data-participant={participant}
                className={`h-[25px] border-b border-hairline ${view.participant === participant ? "bg-plumage-tint" : ""}`}
              >
                <td className="px-1 font-mono text-xs">
                  <button
                    type="button"
                    className="hover:underline"
                    aria-label={`Show participant ${participant} in the ribbon`}
                    onClick={() => look({ participant, trial: null })}
                  >
                    {participant}
                  </button>
                </td>
                <td className="max-w-[92px] pr-2">
                  <span className="flex items-center gap-1.5">
                    <span
                      aria-hidden="true"
                      className="size-2.5 shrink-0 rounded-full"
                      style={{ background: conditionColor(at) }}
                    />
                    <span className="truncate">{document.groups[at]?.name}</span>
                  </span>
                </td>
                <td>
                  <span className="flex flex-wrap gap-0.5">
                    {shown && shown.nodes.length > mostChips ? (
                      <span
                        className="font-mono text-[11px] leading-4"
                        title={order.map((child) => nodeName(document, shown.nodes[child])).join(", ")}
                      >
                        {order.map((child) => child + 1).join(" ")}
                      </span>
                    ) : shown ? (
                      order.map((child) => (
                        <span
                          key={child}
                          title={nodeName(document, shown.nodes[child])}
                          className="rounded-[4px] border border-hairline px-1 font-mono text-xs leading-4"
                        >
                          {letters[child]}
                        </span>
                      ))
                    ) : (
                      keys.map((value) => (
                        <kbd
                          key={value.id}
                          className="rounded-[4px] border border-hairline px-1.5 font-mono text-xs leading-4"
                        >
                          {keyLabel(String(value.perGroup[group] ?? "?"))}
                        </kbd>
                      ))
                    )}
                  </span>
                </td>
                <td className="px-1 text-right font-mono text-xs text-muted">
                  {document.settings.seed}-{participant}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Spread document={document} bracket={shown} />
      <p className="mt-3 text-sm">
        {collected ? (
          <a
            className="font-semibold text-plumage hover:underline"
            href={`/studies/${code}/sequences.csv?participants=200`}
          >
            Sequences of release {collected.release} as CSV
          </a>
        ) : (
          <a
            className="font-semibold text-plumage hover:underline"
            href={`/studies/${code}/sequences.csv?participants=200`}
          >
            Sequences as CSV
          </a>
        )}
      </p>
    </section>
  );
}

const nodeName = (document: StudyDocument, node: BracketNode["nodes"][number] | undefined): string =>
  !node
    ? ""
    : node.kind === "part"
      ? (document.parts[node.part]?.name ?? "")
      : node.nodes.map((each) => nodeName(document, each)).join(" + ");

const mostSpread = 400;

/** How often each part comes where, and how the cells fill, over as many participants as fill every cell some times. */
function Spread({ document, bracket }: { document: StudyDocument; bracket: BracketNode | undefined }) {
  const [asked, setAsked] = useState<"positions" | "followers">("positions");
  const cells = schemeOf(document).reduce((sum, scheme) => sum + scheme.cells * scheme.share, 0);
  const round = Math.max(1, cells);
  const many = round > mostSpread ? mostSpread : round * Math.max(1, Math.round(48 / round));
  const { cells: filled, brackets } = useMemo(
    () =>
      spreadOf(
        document,
        Array.from({ length: many }, (_, index) => index + 1),
      ),
    [document, many],
  );
  const collected = useCollected();
  const balance = brackets.find((each) => each.bracket === bracket?.id);
  const isEven = round <= mostSpread && (!balance || isBalanced(balance));
  return (
    <>
      {balance && (
        <>
          <div className="mt-4 flex items-baseline justify-between">
            <h3 className="text-xs font-semibold text-muted">
              <button
                type="button"
                aria-pressed={asked === "positions"}
                onClick={() => setAsked("positions")}
                className={asked === "positions" ? "text-ink underline" : ""}
              >
                Comes where
              </button>
              {" · "}
              <button
                type="button"
                aria-pressed={asked === "followers"}
                onClick={() => setAsked("followers")}
                className={asked === "followers" ? "text-ink underline" : ""}
              >
                is followed by
              </button>
            </h3>
            <span className="text-xs text-muted">{many} participants</span>
          </div>
          <CountTable balance={balance} asked={asked} />
        </>
      )}
      <h3 className="mt-4 text-xs font-semibold text-muted">
        {filled.length === 1 ? "One cell: everyone gets the same" : `${filled.length} cells of group and order`}
      </h3>
      {filled.length > 1 && (
        <table className="mt-1 w-full text-left text-sm">
          <thead>
            <tr className="h-6 border-b border-hairline text-xs text-muted">
              <th scope="col" className="px-1 font-normal">
                cell
              </th>
              <th scope="col" className="px-1 text-right font-normal">
                planned
              </th>
              {collected && (
                <th
                  scope="col"
                  className="px-1 text-right font-normal"
                  title={`Participants that count in release ${collected.release}`}
                >
                  there now
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {filled.slice(0, 40).map((cell) => (
              <tr key={cell.key} data-cell={cell.key} className="h-[24px] border-b border-hairline">
                <td className="max-w-[170px] truncate px-1" title={cell.orders}>
                  {cell.group}
                  {cell.orders && <span className="text-muted">, {cell.orders}</span>}
                </td>
                <td className="px-1 text-right font-mono text-xs">{cell.planned}</td>
                {collected && <td className="px-1 text-right font-mono text-xs">{collected.counts[cell.key] ?? 0}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {filled.length > 40 && <p className="mt-1 text-xs text-muted">and {filled.length - 40} more</p>}
      {filled.length > 1 && (
        <p className={`mt-2 flex items-start gap-2 text-sm ${isEven ? "text-plumage" : "text-muted"}`}>
          {isEven ? (
            <Check size={16} aria-hidden="true" className="mt-0.5 shrink-0" />
          ) : (
            <TriangleAlert size={16} aria-hidden="true" className="mt-0.5 shrink-0" />
          )}
          {isEven
            ? `Balanced for every ${round} participants.`
            : (balance?.sentence ?? `All cells are filled after ${round} participants.`)}
        </p>
      )}
    </>
  );
}

/**
 * Whether every part came equally often in each position, and who follows whom is even too where the arrangement
 * promises it.
 */
function isBalanced({ at, after, arrange }: BracketBalance): boolean {
  const isFlat = (counts: number[]) => Math.max(...counts, 0) === Math.min(...counts, Infinity);
  if (arrange === "listed" || arrange === "shuffled") return false;
  const used = at.map((line) => line.filter((_, index) => at.some((each) => (each[index] ?? 0) > 0)));
  const others = after.flatMap((line, first) => line.filter((_, second) => second !== first));
  return isFlat(used.flat()) && (arrange === "latin-square" || isFlat(others));
}

const ordinal = (index: number) =>
  `${index}${["th", "st", "nd", "rd"][index % 100 > 10 && index % 100 < 14 ? 0 : index % 10] ?? "th"}`;

function CountTable({ balance, asked }: { balance: BracketBalance; asked: "positions" | "followers" }) {
  const { things, at, after } = balance;
  const letters = shortNames(things);
  const table = asked === "positions" ? at : after;
  return (
    <div className="overflow-x-auto">
      <table className="mt-1 w-full text-left text-sm">
        <thead>
          <tr className="h-6 border-b border-hairline text-xs text-muted">
            <th scope="col" className="font-normal">
              <span className="sr-only">part</span>
            </th>
            {things.map((thing, column) => (
              <th
                key={thing + column}
                scope="col"
                className="px-1 text-right font-normal"
                title={asked === "followers" ? thing : undefined}
              >
                {asked === "positions" ? ordinal(column + 1) : letters[column]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {things.map((thing, index) => (
            <tr key={thing + index} className="h-[25px] border-b border-hairline">
              <th scope="row" className="max-w-[120px] truncate px-1 text-left font-normal" title={thing}>
                {things.length > 5 ? letters[index] : thing}
              </th>
              {things.map((_, position) => (
                <td key={position} className="px-1 text-right font-mono text-xs">
                  {asked === "followers" && position === index ? "–" : (table[index]?.[position] ?? 0)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

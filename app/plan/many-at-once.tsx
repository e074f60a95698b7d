import { Clipboard, Download } from "lucide-react";
import { useEffect, useState } from "react";
import { Button } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { Dialog } from "~/app/components/dialog";
import { download } from "~/app/components/download";
import { useStudy } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { excessInWords } from "~/core/allocate/bounds";
import type { Balance, BlockBalance, BracketBalance, FactorBalance } from "~/core/balance/counts";
import { methodInWords } from "~/core/describe/method";

const many = 200;

/** Two hundred participants drawn at once, and plainly whether the design is balanced. */
export function ManyAtOnce({ onClose }: { onClose: () => void }) {
  const { code, background, document } = useStudy();
  const [share, setShare] = useState(0);
  const [balance, setBalance] = useState<Balance | null>(null);
  const [reactions, setReactions] = useState<string[]>([]);
  useEffect(() => {
    setShare(0);
    setBalance(null);
    return background.drawMany(document, many, (at, found, told) => {
      setShare(at);
      setBalance(found);
      setReactions(told);
    });
  }, [background, document]);
  const excess = excessInWords(document);
  const method = methodInWords(document);
  const copy = () =>
    copyText(method.join(" "), "The text is copied.", "The browser blocked copying. Select the text and copy it.");
  return (
    <Dialog
      open
      wide
      onOpenChange={(open) => !open && onClose()}
      title={`${many} participants at once`}
      description="Drawn as planned when everyone takes part in turn and no one drops out."
    >
      {excess !== null ? (
        <p className="text-alarm">{excess}</p>
      ) : !balance ? (
        <div className="flex h-24 items-center gap-3" role="status">
          <progress value={share} className="h-2 w-64 accent-(--plumage)" aria-label="Participants drawn" />
          <span className="text-muted">{Math.round(share * many)} drawn</span>
        </div>
      ) : (
        <div className="grid gap-5" data-balance={balance.participants}>
          <section>
            <h3 className="font-semibold">Group and order</h3>
            <p>{balance.cellsSentence}</p>
            <Cells balance={balance} />
          </section>
          {reactions.length > 0 && (
            <section data-reactions>
              <h3 className="font-semibold">What rules and criteria did</h3>
              <ul className="list-disc pl-5">
                {reactions.map((sentence) => (
                  <li key={sentence}>{sentence}</li>
                ))}
              </ul>
              <p className="text-sm text-muted">
                Simulated participants answered as quickly and as well as is usual: 4 % wrong, 1 % not at all.
              </p>
            </section>
          )}
          {balance.pools.length > 0 && (
            <section data-pools>
              <h3 className="font-semibold">What was drawn from pools</h3>
              {balance.pools.map(({ name, sentences }) => (
                <p key={name}>
                  <span className="text-muted">{name}: </span>
                  {sentences.join(" ")}
                </p>
              ))}
            </section>
          )}
          {balance.brackets.map((bracket) => (
            <Bracket key={bracket.bracket} bracket={bracket} />
          ))}
          {balance.blocks.map((block) => (
            <Block key={block.part} block={block} />
          ))}
        </div>
      )}
      <section className="border-t border-hairline pt-3">
        <div className="flex items-center gap-2">
          <h3 className="font-semibold">For the method section</h3>
          <Button icon={Clipboard} look="quiet" className="ml-auto !text-plumage" onClick={copy}>
            Copy
          </Button>
          <Button
            icon={Download}
            look="quiet"
            className="!text-plumage"
            disabled={!balance}
            onClick={() =>
              balance &&
              download(
                new Blob([JSON.stringify(balance, null, 1)], { type: "application/json" }),
                `${code}-balance.json`,
              )
            }
          >
            The counts as JSON
          </Button>
        </div>
        <p className="mt-1 font-serif text-[15.5px] leading-6" data-method>
          {method.join(" ")}
        </p>
      </section>
    </Dialog>
  );
}

function Cells({ balance: { cells } }: { balance: Balance }) {
  const most = Math.max(1, ...cells.map(({ planned }) => planned));
  if (cells.length < 2) return null;
  return (
    <ul className="mt-2 grid grid-cols-2 gap-x-6 gap-y-1 text-sm">
      {cells.slice(0, 60).map(({ key, group, orders, planned }) => (
        <li key={key} className="flex items-center gap-2">
          <span className="w-[170px] truncate" title={`${group} ${orders}`}>
            {group}
            {orders && <span className="text-muted">, {orders}</span>}
          </span>
          <span className="h-2 flex-1 bg-track" aria-hidden="true">
            <span className="block h-full bg-plumage" style={{ width: `${(100 * planned) / most}%` }} />
          </span>
          <span className="w-7 text-right font-mono text-xs">{planned}</span>
        </li>
      ))}
    </ul>
  );
}

/** A number on a ground that is darker the more there is, for tables where the pattern counts. */
const Shade = ({ value, most, title }: { value: number; most: number; title?: string }) => (
  <td
    title={title}
    className="h-6 min-w-9 px-1 text-center font-mono text-xs"
    style={{
      background: `color-mix(in oklab, var(--plumage) ${Math.round((38 * value) / Math.max(1, most))}%, transparent)`,
    }}
  >
    {value}
  </td>
);

function Counts({
  caption,
  rows,
  columns,
  table,
}: {
  caption: string;
  rows: string[];
  columns: string[];
  table: number[][];
}) {
  const most = Math.max(1, ...table.flat());
  return (
    <div className="overflow-x-auto">
      <table className="text-sm">
        <caption className="pb-1 text-left text-xs text-muted">{caption}</caption>
        <thead>
          <tr className="text-xs text-muted">
            <td />
            {columns.map((column, index) => (
              <th key={column + index} scope="col" className="max-w-24 truncate px-1 font-normal" title={column}>
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr key={row + index}>
              <th scope="row" className="max-w-40 truncate pr-2 text-left font-normal" title={row}>
                {row}
              </th>
              {columns.map((_, position) => (
                <Shade key={position} value={table[index]?.[position] ?? 0} most={most} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const Bracket = ({ bracket: { things, at, after, sentence } }: { bracket: BracketBalance }) => (
  <section>
    <h3 className="font-semibold">{things.join(", ")}</h3>
    <p>{sentence}</p>
    <div className="mt-2 flex flex-wrap gap-8">
      <Counts
        caption="comes in position"
        rows={things}
        columns={things.map((_, index) => String(index + 1))}
        table={at}
      />
      <Counts caption="is followed by" rows={things} columns={things} table={after} />
    </div>
  </section>
);

/** More rows than these are drawn without their numbers. */
const mostNumbered = 30;

const Block = ({ block }: { block: BlockBalance }) => (
  <section>
    <h3 className="font-semibold">
      {block.name} <span className="font-normal text-muted">{block.trials} trials</span>
    </h3>
    {block.sentences.map((sentence) => (
      <p key={sentence}>{sentence}</p>
    ))}
    <p className={block.broken > 0 ? "font-semibold text-alarm" : "text-muted"}>
      {block.broken > 0
        ? `The order of ${block.broken} participants breaks a limit.`
        : (block.ways["sampled"] ?? 0) > 0
          ? "All limits are kept; orders came from the sampler, each about equally likely."
          : block.ways["exact"]
            ? `${block.isLimited ? "All limits are kept; every" : "Every"} order was exactly equally likely.`
            : "The order is the same for all or given."}
    </p>
    <div className="mt-2 flex flex-wrap items-start gap-8">
      {block.rows <= mostNumbered ? (
        <Counts
          caption="row, from early to late in the block"
          rows={block.perTenth.map((_, row) => `row ${row + 1}`)}
          columns={(block.perTenth[0] ?? []).map((_, bin) => String(bin + 1))}
          table={block.perTenth}
        />
      ) : (
        <RowPicture perTenth={block.perTenth} />
      )}
      {block.factors.map((factor) => (
        <Factor key={factor.column} factor={factor} />
      ))}
    </div>
  </section>
);

/** Rows over the block as a picture, where there are too many for numbers. */
function RowPicture({ perTenth }: { perTenth: number[][] }) {
  const most = Math.max(1, ...perTenth.flat());
  const bins = perTenth[0]?.length ?? 1;
  return (
    <svg
      role="img"
      aria-label="How often each row came early and late in the block"
      width={bins * 18}
      height={Math.min(300, perTenth.length * 4)}
      viewBox={`0 0 ${bins} ${perTenth.length}`}
      preserveAspectRatio="none"
    >
      {perTenth.map((line, row) =>
        line.map((count, bin) => (
          <rect
            key={`${row} ${bin}`}
            x={bin}
            y={row}
            width={1}
            height={1}
            fill="var(--plumage)"
            fillOpacity={(0.9 * count) / most}
          />
        )),
      )}
    </svg>
  );
}

function Factor({ factor: { column, levels, runs, after } }: { factor: FactorBalance }) {
  if (levels.length < 2) return null;
  const most = Math.max(1, ...runs);
  return (
    <div className="grid gap-3">
      <div>
        <p className="text-xs text-muted">length of runs of {column}</p>
        <div className="mt-1 flex h-14 items-end gap-1">
          {runs.slice(0, 16).map((count, length) => (
            <span key={length} className="flex w-6 flex-col items-center" title={`${count} runs of ${length + 1}`}>
              <span
                className="w-4"
                style={{ height: Math.max(1, (36 * count) / most), background: conditionColor(0) }}
              />
              <span className="font-mono text-xs">{length + 1}</span>
            </span>
          ))}
        </div>
      </div>
      {levels.length <= 8 && (
        <Counts caption={`${column} is followed by`} rows={levels} columns={levels} table={after} />
      )}
    </div>
  );
}

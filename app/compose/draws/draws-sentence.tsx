import { withoutUndefined } from "~/core/shape/without-undefined";
import { AddLine } from "~/app/components/add-line";
import { Table2, X } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import { drawOf } from "~/core/design/drawn-levels";
import { setDraws } from "~/core/design/edits/table";
import { partsInOrder } from "~/core/design/lookup";
import { drawsIn } from "~/core/pools/tasks";
import { hasOwnRow, type DrawReach, type Draws, type OwnRow, type Takes } from "~/core/values/draws";
import type { Pool } from "~/core/values/pool";
import { isFilled, type Column } from "~/core/values/table";
import { DrawnExample } from "./example";
import { MatchSentence } from "./match-sentence";

const reaches: readonly (readonly [DrawReach, string])[] = [
  ["trial", "in a trial"],
  ["block", "in the block"],
  ["session", "in a session"],
  ["sittings", "for a participant, over all sittings"],
];

/** What a column draws from a pool, as sentences whose underlined words are choices. */
export function DrawsSentence({ block, column, draws }: { block: Block; column: Column; draws: Draws }) {
  const { document, edit, look } = useStudy();
  const set = (next: Draws) => edit(setDraws(block.id, column.id, next), `draws ${column.id}`);
  const own = drawOf(block, column);
  const pool = document.pools.find(({ id }) => id === own?.pool);
  const isDrawnWith = drawsIn(block).filter((each) => each.column.id !== column.id);
  // Who others draw with keeps a row of its own.
  const isLead = block.table.columns.some(
    (each) => each.draws && "with" in each.draws && each.draws.with === column.id,
  );
  const from = hasOwnRow(draws) ? `pool ${draws.pool}` : `with ${draws.with}`;
  const drawFrom = (value: string) => {
    const [kind, id = ""] = value.split(" ");
    const lead = kind === "with" ? block.table.columns.find((each) => each.id === id)?.draws : undefined;
    const poolId = hasOwnRow(lead) ? lead.pool : id;
    const there = document.pools.find((each) => each.id === poolId);
    const first: Takes = { is: "value", column: there?.table.columns[0]?.id ?? "" };
    if (kind === "with") set({ with: id, takes: poolId === own?.pool ? draws.takes : first });
    else set({ pool: id, takes: poolId === own?.pool ? draws.takes : first, where: [], once: "block" });
  };
  return (
    <div className="grid gap-2">
      <Sentence>
        It takes{" "}
        <SentenceChoice
          label="What it takes"
          value={takesKey(draws.takes)}
          options={takesOptions(document.parts, pool, own)}
          onChange={(key) => set({ ...draws, takes: takesFrom(key) })}
        />{" "}
        of{" "}
        <SentenceChoice
          label="Which row"
          value={from}
          options={[
            ...document.pools.map(({ id, name }) => [`pool ${id}`, `a row of ${name}`] as const),
            ...(isLead
              ? []
              : isDrawnWith.map(({ column: { id, name } }) => [`with ${id}`, `the row that ${name} draws`] as const)),
          ]}
          onChange={drawFrom}
        />
        {hasOwnRow(draws) && ", drawn for each trial"}.
      </Sentence>
      {hasOwnRow(draws) && pool && <OwnSentences block={block} column={column} own={draws} pool={pool} set={set} />}
      <DrawnExample block={block} column={column} />
      <span>
        <Button icon={Table2} onClick={() => look({ asked: "pools", pool: pool?.id ?? null })}>
          {pool ? `Open ${pool.name}` : "Open the pools"}
        </Button>
      </span>
    </div>
  );
}

type OwnProps = { block: Block; column: Column; own: OwnRow; pool: Pool; set: (next: OwnRow) => void };

function OwnSentences({ block, column, own, pool, set }: OwnProps) {
  const levels = block.table.columns.filter((each) => each.factor && !isFilled(each));
  const change = (fields: Changes) => set(withoutUndefined({ ...own, ...fields }) as OwnRow);
  return (
    <>
      {own.where.map((match, index) => (
        <div key={index} className="flex items-start gap-1">
          <MatchSentence
            block={block}
            column={column}
            pool={pool}
            match={match}
            isFirst={index === 0}
            onChange={(next) => change({ where: own.where.map((each, at) => (at === index ? next : each)) })}
          />
          <span className="ml-auto">
            <IconButton
              icon={X}
              label={`Remove condition ${index + 1}`}
              onClick={() => change({ where: own.where.filter((_, at) => at !== index) })}
            />
          </span>
        </div>
      ))}
      {own.where.length < 6 && pool.table.columns.length > 0 && (
        <AddLine
          says="only rows that …"
          onClick={() => change({ where: [...own.where, freshMatch(block, column, pool, own)] })}
        />
      )}
      <Sentence>
        No row comes twice{" "}
        <SentenceChoice
          label="No row comes twice"
          value={own.once}
          options={reaches}
          onChange={(once) => change({ once, ...(once === "trial" ? { balanced: undefined } : {}) })}
        />
        .
        {own.once !== "trial" && !own.before && (
          <>
            {" "}
            Over participants each comes equally often{" "}
            <SentenceChoice
              label="Equally often"
              value={own.balanced ?? ""}
              options={[["", "in all"], ...levels.map(({ id, name }) => [id, `with each ${name}`] as const)]}
              onChange={(level) => change({ balanced: level === "" ? undefined : level })}
            />
            .
          </>
        )}
      </Sentence>
      <BeforeSentence block={block} own={own} change={change} />
    </>
  );
}

type Ages = "any" | "old" | "new" | "both";
const agesOf = ({ before }: OwnRow): Ages =>
  !before ? "any" : typeof before.shown === "object" ? "both" : before.shown ? "old" : "new";

/** Which rows are drawn by what an earlier block of the session showed. */
function BeforeSentence({ block, own, change }: BeforeProps) {
  const { document } = useStudy();
  const parts = partsInOrder(document);
  const earlier = parts
    .slice(0, parts.indexOf(block))
    .filter((part): part is Block => part.kind === "block" && drawsIn(part).some((each) => each.own.pool === own.pool));
  const { before } = own;
  if (earlier.length === 0 && !before) return null;
  const typed = block.table.columns.filter((each) => !isFilled(each));
  const valuesOf = (column: string) => [...new Set(block.table.rows.flatMap(({ cells }) => cells[column] ?? []))];
  const by = (column: string) => ({ column, is: valuesOf(column)[0] ?? "" });
  const [firstColumn] = typed;
  const choose = (ages: Ages) => {
    const id = before?.block ?? earlier[0]?.id ?? "";
    if (ages === "any") change({ before: undefined });
    else if (ages === "both" && firstColumn) change({ before: { block: id, shown: by(firstColumn.id) } });
    else change({ before: { block: id, shown: ages === "old" } });
  };
  const ages = agesOf(own);
  const shown = typeof before?.shown === "object" ? before.shown : null;
  const which = before && (
    <SentenceChoice
      label="Block that showed them"
      value={before.block}
      options={earlier.map(({ id, name }) => [id, name] as const)}
      onChange={(id) => change({ before: { ...before, block: id } })}
    />
  );
  return (
    <Sentence>
      Rows are{" "}
      <SentenceChoice
        label="Old or new"
        value={ages}
        options={[
          ["any", "any"],
          ["old", "old"],
          ["new", "new"],
          ...(firstColumn ? [["both", "old or new"] as const] : []),
        ]}
        onChange={choose}
      />
      {ages === "old" && <>, shown in {which}</>}
      {ages === "new" && <>, not shown in {which}</>}
      {before && shown && (
        <>
          : old, shown in {which}, where{" "}
          <SentenceChoice
            label="Column that tells old from new"
            value={shown.column}
            options={typed.map(({ id, name }) => [id, name] as const)}
            onChange={(id) => change({ before: { ...before, shown: by(id) } })}
          />{" "}
          is{" "}
          <SentenceChoice
            label="Value of old trials"
            value={String(shown.is)}
            options={valuesOf(shown.column).map((each) => [String(each), String(each)] as const)}
            onChange={(is) =>
              change({
                before: {
                  ...before,
                  shown: { ...shown, is: valuesOf(shown.column).find((each) => String(each) === is) ?? is },
                },
              })
            }
          />
          , else new
        </>
      )}
      .
    </Sentence>
  );
}
type BeforeProps = { block: Block; own: OwnRow; change: (fields: Changes) => void };
/** What is changed of a draw; what is undefined is taken away. */
type Changes = { [K in keyof OwnRow]?: OwnRow[K] | undefined };

const takesKey = (takes: Takes): string => ("column" in takes ? `${takes.is} ${takes.column}` : takes.is);
function takesFrom(key: string): Takes {
  const [is, column = ""] = key.split(" ");
  return is === "position" ? { is } : { is: is === "earlier" ? "earlier" : "value", column };
}

function takesOptions(
  parts: Record<string, { kind: string; name: string }>,
  pool: Pool | undefined,
  own: OwnRow | null,
): (readonly [string, string])[] {
  const before = own?.before && (parts[own.before.block] as Block | undefined);
  return [
    ...(pool?.table.columns ?? []).map(({ id, name }) => [`value ${id}`, `the ${name}`] as const),
    ...(before
      ? [
          ["position", `the position in ${before.name}`] as const,
          ...before.table.columns.map(({ id, name }) => [`earlier ${id}`, `the ${name} in ${before.name}`] as const),
        ]
      : []),
  ];
}

/** A first condition: on a column of the pool that has the name of one of the table’s. */
function freshMatch(block: Block, column: Column, pool: Pool, { where }: OwnRow): OwnRow["where"][number] {
  const free = pool.table.columns.filter(({ id }) => !where.some((match) => match.column === id));
  const alike = (name: string) =>
    block.table.columns.find((each) => each.id !== column.id && each.name.toLowerCase() === name.toLowerCase());
  const found = free.find(({ name }) => alike(name)) ?? free[0] ?? pool.table.columns[0];
  const to = found && alike(found.name);
  const first = found && pool.table.rows[0]?.cells[found.id];
  return { column: found?.id ?? "", to: to ? { from: { column: to.id } } : (first ?? "") };
}

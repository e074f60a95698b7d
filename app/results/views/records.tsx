import { Columns3 } from "lucide-react";
import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import { buttonClass } from "~/app/components/button";
import { Menu, MenuItem, MenuTick } from "~/app/components/menu";
import { Sentence, SentenceChoice, SentenceText } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import type { Condition } from "~/core/tidy/chosen-rows";
import { AsRecipe } from "../export/as-recipe";
import { AddCondition, RowConditions } from "../row-conditions";
import type { Change, ResultView } from "../result-views";
import { RowsTable } from "../rows-table";

const tables = [
  ["trials", "trials"],
  ["answers", "answers to questions"],
  ["sessions", "sessions"],
  ["events", "events"],
] as const;
const ofWhat = [
  ["no", "participants"],
  ["yes", "rehearsals"],
] as const;
const inAddress = ({ column, is, value }: Condition) => `${column}~${is}~${value}`;

/** What is typed is asked for when nothing more was typed for so long. */
const pauseMs = 350;

/** `ask`, and the same in a while: what waits goes along with whatever is asked before. */
function useAsking(ask: (change: Change) => void) {
  const waiting = useRef<{ change: Change; timer: ReturnType<typeof setTimeout> } | null>(null);
  const take = (): Change => {
    const change = waiting.current?.change ?? {};
    clearTimeout(waiting.current?.timer);
    waiting.current = null;
    return change;
  };
  useEffect(() => () => clearTimeout(waiting.current?.timer), []);
  return {
    askNow: (change: Change) => ask({ ...take(), ...change }),
    askLater: (change: Change) => {
      const all = { ...take(), ...change };
      waiting.current = { change: all, timer: setTimeout(() => ask(take()), pauseMs) };
    },
  };
}

/** What is said where there are no rows at all. */
const nothing = {
  trials: "No trials are in yet.",
  answers: "No questions were answered yet.",
  sessions: "No sessions are in yet.",
  events: "Nothing has happened yet.",
};

export const View: ResultView<"records"> = ({ question, answer, ask }) => {
  const { askNow, askLater } = useAsking(ask);
  const { table, pilots, conditions, search, sort } = question;
  const { header, rows, all, total, outOf, perPage } = answer;
  const { code } = useStudy();
  const [query] = useSearchParams();
  // Other rows are other columns.
  const setTable = (rows: string) => askNow({ rows, where: [], sort: "", columns: "", find: "" });
  const setConditions = (changed: Condition[]) => askNow({ where: changed.map(inAddress) });
  const shown = new Set(header);
  const toggle = (name: string, isShown: boolean) => {
    const names = all.map((column) => column.name).filter((each) => (each === name ? isShown : shown.has(each)));
    // One is always left.
    if (names.length > 0) askNow({ columns: names.length === all.length ? "" : names.join(",") });
  };
  const asked = new URLSearchParams(query);
  asked.delete("page");
  const count = (number: number) => number.toLocaleString("en");
  return (
    <div className="flex h-full min-h-[420px] flex-col">
      <div className="flex items-start gap-3 pt-1 pb-1.5">
        <div className="min-w-0 flex-1">
          <Sentence>
            Rows are <SentenceChoice label="Row" value={table} options={tables} onChange={setTable} /> of{" "}
            <SentenceChoice
              label="Of"
              value={pilots ? "yes" : "no"}
              options={ofWhat}
              onChange={(chosen) => askNow({ pilots: chosen })}
            />
            <RowConditions
              conditions={conditions}
              columns={all.map(({ name }) => name)}
              set={setConditions}
              setLater={(changed) => askLater({ where: changed.map(inAddress) })}
            />
            {", containing "}
            <SentenceText
              label="Text to find"
              value={search}
              problem={() => null}
              onChange={(find) => askLater({ find })}
              className="min-w-24"
            />
            .
          </Sentence>
          <p className="text-xs text-muted" role="status" data-rows>
            {total === outOf ? count(total) : `${count(total)} of ${count(outOf)}`} {outOf === 1 ? "row" : "rows"},{" "}
            {header.length} of {all.length} columns, as they are exported
          </p>
        </div>
        <AddCondition
          columns={all.map(({ name }) => name)}
          add={(condition) => setConditions([...conditions, condition])}
        />
        <Menu
          align="end"
          trigger={
            <button type="button" className={buttonClass("plain")}>
              <Columns3 size={16} aria-hidden="true" />
              Columns
            </button>
          }
        >
          <MenuItem onSelect={() => askNow({ columns: "" })}>All columns</MenuItem>
          {all.map(({ name }) => (
            <MenuTick key={name} checked={shown.has(name)} onChange={(isShown) => toggle(name, isShown)}>
              <span className="font-mono text-xs">{name}</span>
            </MenuTick>
          ))}
        </Menu>
        {!pilots && (
          <AsRecipe
            table={table}
            columns={header}
            where={conditions}
            containing={search}
            then={(recipe) => ask({ tab: "export", recipe, rows: [], where: [], sort: [], columns: [], find: [] })}
          />
        )}
      </div>
      {total === 0 ? (
        <p className="rounded-md border border-hairline bg-sheet p-4 text-muted">
          {outOf > 0
            ? "No row is like this. Change or remove a condition."
            : pilots
              ? "Nothing was rehearsed yet."
              : nothing[table]}
        </p>
      ) : (
        <RowsTable
          address={`/studies/${code}/rows?${asked}`}
          header={header}
          columns={all}
          first={rows}
          perPage={perPage}
          total={total}
          sort={sort}
          onSort={(sorting) =>
            askNow({ sort: sorting === null ? "" : `${sorting.isFalling ? "-" : ""}${sorting.column}` })
          }
        />
      )}
    </div>
  );
};

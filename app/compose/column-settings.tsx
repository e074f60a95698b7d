import { UsedIn } from "~/app/components/used-in";
import { ArrowLeft, ArrowRight } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { RemoveUsed } from "~/app/components/used-first";
import { useStudy } from "~/app/editing/use-study";
import { type Column, type ColumnType, type Follows, isFilled } from "~/core/values/table";
import { FollowsSentence } from "./follows/follows-sentence";
import { addPool, setDraws } from "~/core/design/edits/table";
import { DrawsSentence } from "./draws/draws-sentence";
import { newPool } from "~/app/pools/new-pool";
import { newAdaptive } from "~/core/adaptive/new";
import { together } from "~/core/design/edits/edit";
import { freshLetters, LettersFields } from "./letters-fields";
import { LongText } from "~/app/components/long-text";
import {
  moveColumn,
  removeColumn,
  setCells,
  setColumn,
  setColumnType,
  setFollows,
  sortRows,
} from "~/core/design/edits/table";
import { nameProblem } from "~/core/values/names";
import { ownColumnNames } from "~/core/export/tables/trials";
import { namesInReach } from "~/core/design/names-in-reach";
import { usesInDraws } from "~/core/design/uses-of-pools";
import { pathInWords } from "~/core/design/path-in-words";
import { usesIn } from "~/core/values/uses";
import { columnsOfOrder } from "~/core/order/words";
import type { Block } from "~/core/design/block";
import { Margin } from "./margin";
import { useBlockAbove } from "./block-above";
import { Choice, Property, Section, TextField, Switch } from "~/app/components/fields";
import { CasesFields, freshCases } from "./cases-fields";

export const columnTypes: readonly (readonly [ColumnType, string])[] = [
  ["text", "text"],
  ["number", "number"],
  ["image", "picture"],
  ["sound", "sound"],
  ["video", "video"],
  ["color", "colour"],
  ["yes-no", "yes or no"],
];

export function ColumnSettings({ block, column }: { block: Block; column: Column }) {
  const { document, edit, look, view } = useStudy();
  const index = block.table.columns.indexOf(column);
  const shownRow = block.table.rows.find(({ id }) => id === view.row) ?? block.table.rows[0];
  const cellText = String(shownRow?.cells[column.id] ?? "");
  const remove = () => {
    edit(removeColumn(block.id, column.id));
    look({ selected: { kind: "nothing" } });
  };
  const set = (change: Partial<Column>) => edit(setColumn(block.id, column.id, change), `column ${column.id}`);
  const uses = usesIn(block, `parts.${block.id}`).filter(({ ref }) => "column" in ref && ref.column === column.id);
  const others = block.table.columns.filter((each) => each.id !== column.id && !isFilled(each));
  const fillFrom = (by: string[]) =>
    set({ cases: by.length === 0 ? undefined : freshCases(block, by), letters: undefined });
  const fillBy = (by: string) => {
    if (by === "follows") return edit(setFollows(block.id, column.id, freshFollows(block, column)));
    if (by === "draws") return drawFromPool();
    const stands = [
      ...(column.follows ? [setFollows(block.id, column.id, undefined)] : []),
      ...(column.draws ? [setDraws(block.id, column.id, undefined)] : []),
    ];
    const letters = by.startsWith("letters ") ? freshLetters(by.slice(8)) : undefined;
    const cases = by === "" || letters ? undefined : freshCases(block, [by]);
    edit(together(...stands, setColumn(block.id, column.id, { cases, letters })), `column ${column.id}`);
  };
  /** From the first pool; where there is none yet, from an empty one that is opened to be filled. */
  const drawFromPool = () => {
    const [there] = document.pools;
    const pool = there ?? newPool([]);
    const alike = pool.table.columns.find(({ name }) => name.toLowerCase() === column.name.toLowerCase());
    const takes = { is: "value" as const, column: (alike ?? pool.table.columns[0])?.id ?? "" };
    const draws = setDraws(block.id, column.id, { pool: pool.id, takes, where: [], once: "block" });
    edit(there ? draws : together(addPool(pool), draws));
    if (!there) look({ asked: "pools", pool: pool.id });
  };
  const where = [
    ...new Set([
      ...uses.map(({ path }) =>
        pathInWords(document, path.replace(/\.(from|ref)$/, "")).replace(/^block “[^”]*”, /, ""),
      ),
      ...usesInDraws(block, column.id),
      ...columnsOfOrder(block.order).flatMap((each) => (each.column === column.id ? [each.use] : [])),
    ]),
  ];
  return (
    <Margin
      up={useBlockAbove(block)}
      title={<span className="font-mono text-sm">{column.name}</span>}
      kind="column of the table"
      actions={
        <>
          <IconButton
            icon={ArrowLeft}
            label="Move the column to the left"
            disabled={index === 0}
            onClick={() => edit(moveColumn(block.id, column.id, index - 1))}
          />
          <IconButton
            icon={ArrowRight}
            label="Move the column to the right"
            disabled={index === block.table.columns.length - 1}
            onClick={() => edit(moveColumn(block.id, column.id, index + 1))}
          />
          <RemoveUsed label="Remove the column" uses={where} onRemove={remove} />
        </>
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="column-name">
          <TextField
            id="column-name"
            value={column.name}
            onChange={(name) => set({ name })}
            problem={(name) => nameProblem(name, namesInReach(document, block, column.id), ownColumnNames(document))}
          />
        </Property>
        <Property label="Holds" {...(column.draws ? {} : { htmlFor: "column-type" })}>
          {column.draws ? (
            <span className="text-sm text-muted">
              {columnTypes.find(([type]) => type === column.type)?.[1]}, as where it is drawn from
            </span>
          ) : (
            <Choice
              id="column-type"
              value={column.type}
              options={columnTypes}
              onChange={(type) =>
                edit(
                  column.follows && type !== "number"
                    ? together(setFollows(block.id, column.id, undefined), setColumnType(block.id, column.id, type))
                    : setColumnType(block.id, column.id, type),
                )
              }
            />
          )}
        </Property>
        <Switch
          label="Factor"
          means="its values are levels"
          checked={column.factor}
          onChange={(on) => set({ factor: on })}
        />
      </Section>
      {!isFilled(column) && (
        <Property label="Sort rows">
          <span className="flex flex-wrap gap-1.5">
            <Button onClick={() => edit(sortRows(block.id, column.id, "up"))}>smallest first</Button>
            <Button onClick={() => edit(sortRows(block.id, column.id, "down"))}>largest first</Button>
          </span>
        </Property>
      )}
      <Section title="Filled">
        <Property label="From" htmlFor="column-by">
          <Choice
            id="column-by"
            value={
              column.follows
                ? "follows"
                : column.draws
                  ? "draws"
                  : column.letters
                    ? `letters ${column.letters.from}`
                    : (column.cases?.by[0] ?? "")
            }
            options={[
              ["", "typed by hand"],
              ...others.map(({ id, name }) => [id, `cases of ${name}`] as const),
              ...others
                .filter(({ type }) => type === "text")
                .map(({ id, name }) => [`letters ${id}`, `letters of ${name} replaced`] as const),
              ["draws", "a pool"],
              ["follows", "what was answered before"],
            ]}
            onChange={fillBy}
          />
        </Property>
        {column.follows && <FollowsSentence block={block} column={column} follows={column.follows} />}
        {column.draws && <DrawsSentence block={block} column={column} draws={column.draws} />}
        {column.letters && (
          <LettersFields block={block} letters={column.letters} onChange={(letters) => set({ letters })} />
        )}
        {column.cases && others.length > 1 && (
          <Property label="and" htmlFor="column-by-2">
            <Choice
              id="column-by-2"
              value={column.cases.by[1] ?? ""}
              options={[
                ["", "no other column"],
                ...others.filter(({ id }) => id !== column.cases?.by[0]).map(({ id, name }) => [id, name] as const),
              ]}
              onChange={(by) => fillFrom([column.cases?.by[0] ?? "", ...(by === "" ? [] : [by])])}
            />
          </Property>
        )}
        {column.cases && (
          <CasesFields
            block={block}
            cases={column.cases}
            onChange={(cases) => set({ cases })}
            participant={view.participant}
          />
        )}
      </Section>
      {column.type === "text" && !isFilled(column) && shownRow && (
        <Section title={`In row ${block.table.rows.indexOf(shownRow) + 1}`}>
          <Property label="Text">
            <TextField
              label={`${column.name} in the shown row`}
              value={cellText}
              onChange={(value) => edit(setCells(block.id, [{ row: shownRow.id, column: column.id, value }]), "cell")}
            />
            <LongText
              label={`${column.name} in row ${block.table.rows.indexOf(shownRow) + 1}`}
              value={cellText}
              onChange={(value) => edit(setCells(block.id, [{ row: shownRow.id, column: column.id, value }]), "cell")}
            />
          </Property>
        </Section>
      )}
      <UsedIn uses={where} none="Nowhere yet. Bind a property to it with the grid button beside the property." />
    </Margin>
  );
}

/** A staircase between the least and the greatest number of the column; between 0 and 100 where it has none. */
function freshFollows({ table }: Block, { id }: Column): Follows {
  const numbers = table.rows.flatMap(({ cells }) => (typeof cells[id] === "number" ? [cells[id]] : []));
  const [least, most] = [Math.min(...numbers), Math.max(...numbers)];
  return { by: most > least ? newAdaptive("staircase", least, most) : newAdaptive("staircase", 0, 100) };
}

import { ArrowDown, ArrowUp, Search } from "lucide-react";
import { useState } from "react";
import { IconButton } from "~/app/components/button";
import { columnInWords } from "~/core/export/recipes/in-words";
import { columnNameProblem } from "~/core/export/recipes/problems";
import { isOfPersons, rowColumns, type Recipe, type RecipeColumn } from "~/core/export/recipes/recipe";
import { freeName } from "~/core/export/recipes/templates";
import type { ExportAnswer } from "~/server/results/export";
import { AddNumbers } from "./add-numbers";

type Props = { recipe: Recipe; available: ExportAnswer["available"]; set: (recipe: Recipe) => void };
type Plain = Extract<RecipeColumn, { is: "column" }>;

const sorts: Record<RecipeColumn["is"], string> = { column: "", measure: "worked out", difference: "difference" };
const isSame = (a: Plain, b: RecipeColumn) => b.is === "column" && a.of === b.of && a.column === b.column;

/** The columns of the file in their order, with the names it gives them; and those that could be in it. */
export function RecipeColumns({ recipe, available, set }: Props) {
  const [find, setFind] = useState("");
  const { columns, rows, by } = recipe;
  const setColumns = (next: RecipeColumn[]) => set({ ...recipe, columns: next });
  const own = rowColumns(available.columns, rows);
  const described = new Map([
    ...own.map((column) => [`row ${column.name}`, column] as const),
    ...available.columns.session.map((column) => [`session ${column.name}`, column] as const),
  ]);
  const plain =
    (of: Plain["of"]) =>
    (column: string): Plain => ({ is: "column", of, column, name: column });
  const there = [
    ...(rows === "person-condition" ? by : own.map(({ name }) => name)).map(plain("row")),
    ...available.columns.session.map(({ name }) => name).map(plain("session")),
  ];
  const others = there.filter((each) => !columns.some((column) => isSame(each, column)));
  const sought = find.trim().toLowerCase();
  const says = (column: RecipeColumn) =>
    column.is === "column"
      ? (described.get(`${column.of} ${column.column}`)?.meaning ?? "the condition of the row")
      : columnInWords(column);
  const isSought = (column: RecipeColumn) =>
    sought === "" ||
    [column.name, says(column), column.is === "column" ? column.column : ""].some((text) =>
      text.toLowerCase().includes(sought),
    );
  const move = (at: number, to: number) => {
    const next = columns.filter((_, index) => index !== at);
    next.splice(to, 0, columns[at] as RecipeColumn);
    setColumns(next);
  };
  const rename = (at: number, name: string) => {
    const before = columns[at]?.name ?? "";
    const isNamed = (other: string) => other === before && columns.filter((each) => each.name === before).length === 1;
    setColumns(
      columns.map((column, index) => {
        if (index === at) return { ...column, name };
        // What is worked out of it goes on being worked out of it.
        return column.is === "difference"
          ? { ...column, of: isNamed(column.of) ? name : column.of, less: isNamed(column.less) ? name : column.less }
          : column;
      }),
    );
  };
  return (
    <section aria-label="Columns" className="rounded-md border border-hairline bg-sheet">
      <div className="flex items-center justify-between gap-3 border-b border-hairline px-3 py-1.5">
        <h3 className="text-sm">
          <b>Columns</b>{" "}
          <span className="text-muted">
            {columns.length} of {columns.length + others.length}
          </span>
        </h3>
        <label className="relative">
          <Search size={14} aria-hidden="true" className="absolute left-2 top-2 text-muted" />
          <input
            aria-label="Find a column"
            placeholder="find"
            value={find}
            onChange={({ target }) => setFind(target.value)}
            className="field !w-[130px] !pl-7"
          />
        </label>
      </div>
      <ul className="max-h-[420px] overflow-auto" aria-label="Columns of the file" tabIndex={0}>
        {columns.map((column, at) =>
          isSought(column) ? (
            <li
              key={at}
              className="flex min-h-[34px] items-center gap-2 border-b border-hairline px-3"
              data-column={column.name}
            >
              <input
                type="checkbox"
                className="h-4 w-4 shrink-0 accent-plumage"
                checked
                aria-label={`${column.name} is in the file`}
                onChange={() => setColumns(columns.filter((_, index) => index !== at))}
              />
              <input
                aria-label={`Name of column ${at + 1}`}
                value={column.name}
                maxLength={80}
                aria-invalid={columnNameProblem(column.name) !== null}
                onChange={({ target }) => rename(at, target.value)}
                className="field !w-[150px] shrink-0 font-mono !text-xs"
              />
              <span className="line-clamp-2 min-w-0 flex-1 text-xs text-muted" title={says(column)}>
                {says(column)}
              </span>
              {sorts[column.is] !== "" && (
                <span className="shrink-0 rounded-sm bg-sheen-tint px-1.5 text-xs">{sorts[column.is]}</span>
              )}
              <span className="flex shrink-0">
                <IconButton
                  icon={ArrowUp}
                  label={`${column.name} earlier`}
                  disabled={at === 0}
                  onClick={() => move(at, at - 1)}
                />
                <IconButton
                  icon={ArrowDown}
                  label={`${column.name} later`}
                  disabled={at === columns.length - 1}
                  onClick={() => move(at, at + 1)}
                />
              </span>
            </li>
          ) : null,
        )}
        {others.filter(isSought).map((column) => (
          <li
            key={`${column.of} ${column.column}`}
            className="flex min-h-[30px] items-center gap-2 border-b border-hairline px-3 last:border-b-0"
          >
            <input
              type="checkbox"
              className="h-4 w-4 shrink-0 accent-plumage"
              checked={false}
              aria-label={`${column.column} is in the file`}
              onChange={() => setColumns([...columns, { ...column, name: freeName(column.name, columns) }])}
            />
            <span className="w-[150px] shrink-0 truncate px-1.5 font-mono text-xs">{column.column}</span>
            <span className="line-clamp-2 min-w-0 flex-1 text-xs text-muted" title={says(column)}>
              {says(column)}
              {column.of === "session" && !isOfPersons(rows) && " (of the session)"}
            </span>
          </li>
        ))}
      </ul>
      {isOfPersons(rows) && (
        <AddNumbers recipe={recipe} available={available} add={(added) => setColumns([...columns, ...added])} />
      )}
    </section>
  );
}

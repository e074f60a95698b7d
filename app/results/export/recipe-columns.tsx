import { ArrowDown, ArrowUp, Search } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { IconButton } from "~/app/components/button";
import { columnInWords } from "~/core/export/recipes/in-words";
import { columnNameProblem } from "~/core/export/recipes/problems";
import { isOfPersons, rowColumns, type Recipe, type RecipeColumn } from "~/core/export/recipes/recipe";
import { freeColumn } from "~/core/export/recipes/templates";
import type { ExportAnswer } from "~/server/results/export";
import { AddNumbers } from "./add-numbers";

type Props = { recipe: Recipe; available: ExportAnswer["available"]; set: (recipe: Recipe) => void };
type Plain = Extract<RecipeColumn, { is: "column" }>;

const sorts: Record<RecipeColumn["is"], string> = { column: "", measure: "computed", difference: "difference" };
const isSame = (a: Plain, b: RecipeColumn) => b.is === "column" && a.of === b.of && a.column === b.column;

/** The columns of the file in their order, with the names it gives them; and those that could be in it. */
export function RecipeColumns({ recipe, available, set }: Props) {
  const [find, setFind] = useState("");
  const list = useRef<HTMLUListElement>(null);
  /** Where the focus goes once the list stands as it was changed. */
  const next = useRef<((items: HTMLUListElement) => HTMLElement | null | undefined) | null>(null);
  useEffect(() => {
    if (list.current) next.current?.(list.current)?.focus();
    next.current = null;
  });
  /** What was ticked goes elsewhere: the focus stays at its place in the list, or goes on where one more stands above it. */
  const keepPlace = (tick: HTMLElement, comesFirst: 0 | 1) => {
    const ticks = (items: HTMLUListElement) => [...items.querySelectorAll<HTMLElement>("input[type=checkbox]")];
    const at = list.current ? ticks(list.current).indexOf(tick) + comesFirst : 0;
    next.current = (items) => ticks(items)[Math.min(at, ticks(items).length - 1)];
  };
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
    const moved = columns.filter((_, index) => index !== at);
    moved.splice(to, 0, columns[at] as RecipeColumn);
    // The same button again moves the same column on; at an end only the other one does anything.
    const [first, second] = to < at ? ["earlier", "later"] : ["later", "earlier"];
    next.current = (items) =>
      items.querySelector<HTMLElement>(`[data-place="${to}"] [data-move="${first}"]:enabled`) ??
      items.querySelector<HTMLElement>(`[data-place="${to}"] [data-move="${second}"]`);
    setColumns(moved);
  };
  const rename = (at: number, name: string) => {
    const before = columns[at]?.name ?? "";
    const isNamed = (other: string) => other === before && columns.filter((each) => each.name === before).length === 1;
    setColumns(
      columns.map((column, index) => {
        if (index === at) return { ...column, name };
        // A difference follows the columns it is made of.
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
      <ul ref={list} className="max-h-[420px] overflow-auto" aria-label="Columns of the file" tabIndex={0}>
        {columns.map((column, at) =>
          isSought(column) ? (
            <li key={at} className="flex min-h-[34px] items-center gap-2 border-b border-hairline px-3" data-place={at}>
              <input
                type="checkbox"
                className="h-4 w-4 shrink-0 accent-plumage"
                checked
                aria-label={`${column.name} is in the file`}
                onChange={({ target }) => {
                  keepPlace(target, 0);
                  setColumns(columns.filter((_, index) => index !== at));
                }}
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
                  data-move="earlier"
                  label={`${column.name} earlier`}
                  disabled={at === 0}
                  onClick={() => move(at, at - 1)}
                />
                <IconButton
                  icon={ArrowDown}
                  data-move="later"
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
              onChange={({ target }) => {
                keepPlace(target, 1);
                setColumns([...columns, { ...column, name: freeColumn(column.name, columns) }]);
              }}
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

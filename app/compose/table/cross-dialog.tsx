import { Plus, X } from "lucide-react";
import { useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { Dialog } from "~/app/components/dialog";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { cellAsText, cellFromText, mediaOfColumn } from "~/core/design/cells";
import { together } from "~/core/design/edits/edit";
import { extendTable, setColumn } from "~/core/design/edits/table";
import { mediaKind } from "~/core/media/types";
import { nameProblem } from "~/core/values/names";
import { namesInReach } from "~/core/design/names-in-reach";
import { guessedType } from "~/core/design/table-import";
import type { Block } from "~/core/design/block";
import { isFilled, type Column, type Row } from "~/core/values/table";
import type { Id } from "~/core/values/ref";
import type { StudyDocument } from "~/core/design/document";
import { combinations, missingCombinations } from "~/core/order/crossing";

/** A line of the dialog. `key` is also the id of its column, where its name turns out to be a new one. */
type Factor = { key: Id; name: string; levels: string };
const levelsIn = (text: string) => [
  ...new Set(
    text
      .split(/[\n,;\t]/)
      .map((each) => each.trim())
      .filter(Boolean),
  ),
];

/** Crosses factors: every combination of their levels becomes a row; what is there already stays as it is. */
export function CrossDialog({
  block,
  open,
  onOpenChange,
}: {
  block: Block;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const { document, edit } = useStudy();
  const [factors, setFactors] = useState<Factor[]>([]);
  const [copies, setCopies] = useState("1");
  const [anew, setAnew] = useState(false);
  const [wasOpen, setWasOpen] = useState(false);
  if (open !== wasOpen) {
    setWasOpen(open);
    if (open) {
      setFactors(startingFactors(document, block));
      setAnew(false);
      setCopies(String(block.table.rows[0]?.copies ?? 1));
    }
  }
  const set = (key: string, change: Partial<Factor>) =>
    setFactors((all) => all.map((each) => (each.key === key ? { ...each, ...change } : each)));
  const crossing = crossed(document, block, factors);
  const all = combinations(crossing.factors);
  const missing = missingCombinations(anew ? [] : block.table.rows, crossing.factors);
  const count = /^\d{1,4}$/.test(copies.trim()) ? Number(copies.trim()) : null;
  const problem =
    factors.length === 0
      ? "Add a factor."
      : (crossing.problem ??
        (all.length > 20_000 ? `${all.length} combinations are more than a table holds.` : null) ??
        (count === null ? "Copies must be a whole number." : null));
  const kept = block.table.rows.length;
  const accept = () => {
    const rows = missing.map((cells): Row => ({ id: newId("row"), copies: count ?? 1, cells }));
    const marks = crossing.factors.flatMap(({ column }) => {
      const there = block.table.columns.find(({ id }) => id === column);
      return there && !there.factor ? [setColumn(block.id, column, { factor: true })] : [];
    });
    edit(together(extendTable(block.id, crossing.added, rows, anew), ...marks));
    onOpenChange(false);
  };
  const others = block.table.columns.filter(
    ({ name, cases }) => !cases && !factors.some((each) => each.name.trim().toLowerCase() === name.toLowerCase()),
  );
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={onOpenChange}
      title="Cross factors"
      description="Every combination of the levels becomes a row of the table. Existing rows keep your edits; a level added later adds only its own combinations."
    >
      <ul className="grid max-h-[40vh] gap-2 -m-1 overflow-y-auto p-1">
        {factors.map((factor, index) => {
          const column = block.table.columns.find(
            ({ name }) => name.toLowerCase() === factor.name.trim().toLowerCase(),
          );
          const kind =
            column && Object.hasOwn(mediaOfColumn, column.type) ? mediaOfColumn[column.type as "image"] : null;
          const files = document.media.filter(({ mime }) => mediaKind(mime) === kind);
          return (
            <li key={factor.key} className="grid grid-cols-[180px_1fr_auto] items-start gap-2">
              <input
                aria-label={`Name of factor ${index + 1}`}
                className="field font-mono"
                value={factor.name}
                placeholder="factor"
                onChange={({ target }) => set(factor.key, { name: target.value })}
              />
              <div className="grid gap-1">
                <textarea
                  aria-label={`Levels of ${factor.name || `factor ${index + 1}`}`}
                  rows={2}
                  className="field !h-auto py-1 font-mono text-xs"
                  value={factor.levels}
                  placeholder="levels, separated by commas or lines: left, right"
                  onChange={({ target }) => set(factor.key, { levels: target.value })}
                />
                {kind && files.length > 0 && (
                  <button
                    type="button"
                    className="justify-self-start text-sm font-semibold text-plumage"
                    onClick={() => set(factor.key, { levels: files.map(({ name }) => name).join("\n") })}
                  >
                    take all {files.length} {kind}s of the study
                  </button>
                )}
              </div>
              <IconButton
                icon={X}
                label={`Leave out ${factor.name || `factor ${index + 1}`}`}
                onClick={() => setFactors((each) => each.filter(({ key }) => key !== factor.key))}
              />
            </li>
          );
        })}
      </ul>
      <div className="flex items-center gap-2">
        <Button
          icon={Plus}
          onClick={() => setFactors((each) => [...each, { key: newId("column"), name: "", levels: "" }])}
        >
          New factor
        </Button>
        {others.length > 0 && (
          <Menu trigger={<Button icon={Plus}>A column as factor</Button>}>
            {others.map((column) => (
              <MenuItem
                key={column.id}
                onSelect={() => setFactors((each) => [...each, factorOf(document, block, column)])}
              >
                <span className="font-mono text-xs">{column.name}</span>
              </MenuItem>
            ))}
          </Menu>
        )}
        <label className="ml-auto flex items-center gap-2 text-sm">
          copies of each new row
          <input
            aria-label="Copies of each new row"
            className="field !w-16 font-mono"
            value={copies}
            onChange={({ target }) => setCopies(target.value)}
          />
        </label>
      </div>
      {kept > 0 && (
        <Tick checked={anew} onChange={setAnew}>
          start over: remove the {kept} {kept === 1 ? "row" : "rows"} there {kept === 1 ? "is" : "are"} now
        </Tick>
      )}
      <div className="flex items-center justify-between gap-4 border-t border-hairline pt-3">
        <p role="status" className={problem ? "text-chestnut" : ""}>
          {problem ?? (
            <>
              {crossing.factors.map(({ levels }) => levels.length).join(" × ")} = <b>{all.length}</b> combinations:{" "}
              {all.length - missing.length} {all.length - missing.length === 1 ? "is" : "are"} there,{" "}
              <b>{missing.length}</b> {missing.length === 1 ? "row is" : "rows are"} added
            </>
          )}
        </p>
        <Button look="primary" disabled={problem !== null || (missing.length === 0 && !anew)} onClick={accept}>
          {missing.length === 0 ? "Nothing to add" : `Add ${missing.length} ${missing.length === 1 ? "row" : "rows"}`}
        </Button>
      </div>
    </Dialog>
  );
}

/** A column with the levels it has in the table. */
function factorOf(document: StudyDocument, block: Block, column: Column): Factor {
  const texts = block.table.rows.map(({ cells }) => cellAsText(document, column, cells[column.id] ?? null));
  return { key: newId("column"), name: column.name, levels: [...new Set(texts.filter(Boolean))].join(", ") };
}

function startingFactors(document: StudyDocument, block: Block): Factor[] {
  const marked = block.table.columns
    .filter((column) => column.factor && !isFilled(column))
    .map((column) => factorOf(document, block, column))
    .filter(({ levels }) => levels !== "");
  return marked.length > 0 ? marked : [{ key: newId("column"), name: "", levels: "" }];
}

/** What was typed as factors: columns of the table or new ones, and their levels as values. */
function crossed(document: StudyDocument, block: Block, typed: Factor[]) {
  const added: Column[] = [];
  const taken = namesInReach(document, block, null);
  let problem: string | null = null;
  const factors = typed.map(({ key, name, levels }, index) => {
    const texts = levelsIn(levels);
    const wanted = name.trim();
    const there = block.table.columns.find((each) => each.name.toLowerCase() === wanted.toLowerCase());
    const wrong = there
      ? there.cases
        ? `“${there.name}” is filled by cases, so it cannot be a factor.`
        : null
      : nameProblem(wanted, [...taken, ...added.map((each) => each.name)]);
    const again = typed.findIndex((each) => each.name.trim().toLowerCase() === wanted.toLowerCase()) < index;
    problem ??= wrong
      ? wanted === ""
        ? "Each factor needs a name."
        : wrong
      : again
        ? `“${wanted}” appears twice.`
        : texts.length === 0
          ? `“${wanted}” has no levels yet.`
          : null;
    const column: Column = there ?? {
      id: key,
      name: wanted,
      type: guessedType(document, texts),
      factor: true,
    };
    if (!there) added.push(column);
    return { column: column.id, levels: texts.map((text) => cellFromText(document, column, text) ?? text) };
  });
  return { factors, added, problem };
}

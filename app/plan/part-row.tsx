import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { FileText, GripVertical, LayoutGrid, Link2, Repeat2 } from "lucide-react";
import type { KeyboardEvent, MouseEvent } from "react";
import { useStudy } from "~/app/editing/use-study";
import { partMinutes } from "~/core/compile/minutes";
import { criterionInWords } from "~/core/describe/rules";
import { conditionInWords } from "~/core/describe/words";
import { keyLabel } from "~/core/devices/keys/keys";
import { trialsInBlock } from "~/core/design/lookup";
import { stepNode } from "~/core/design/edits/running-order";
import type { GroupValue } from "~/core/values/study-values";
import type { Part, StudyDocument } from "~/core/design/document";
import { usesIn } from "~/core/values/uses";
import { arrangementKind } from "~/core/arrangements/registry";
import { bracketExtent, type PlanRow } from "./plan-rows";

/** Whether a group has other values than the first one. */
export const differs = (values: GroupValue[], { groups }: StudyDocument, index: number) =>
  values.some(({ perGroup }) => perGroup[groups[index]?.id ?? ""] !== perGroup[groups[0]?.id ?? ""]);

/** Group values a part uses, also through filled columns. */
const valuesUsed = (part: Part, document: StudyDocument): GroupValue[] => {
  const ids = new Set(usesIn(part).flatMap(({ ref }) => ("groupValue" in ref ? [ref.groupValue] : [])));
  return document.groupValues.filter(({ id }) => ids.has(id));
};

type Cell = { from: number; to: number; text: string | null; isOther: boolean; isAbsent: boolean };

/** What each group has of a part, neighbours with the same put together. */
function cellsOf({ part, node }: PlanRow, document: StudyDocument): Cell[] {
  const used = valuesUsed(part, document);
  const cells: Cell[] = [];
  document.groups.forEach(({ id }, index) => {
    const isAbsent = node.onlyGroups !== undefined && !node.onlyGroups.includes(id);
    const text =
      used.length === 0
        ? null
        : used
            .map((value) => {
              const own = String(value.perGroup[id] ?? "?");
              return `${value.type === "key" ? keyLabel(own) : `“${own}”`} ${value.name}`;
            })
            .join(", ");
    const isOther = !isAbsent && used.length > 0 && differs(used, document, index);
    const last = cells.at(-1);
    if (last && last.isAbsent === isAbsent && (isAbsent || last.text === text)) last.to = index;
    else cells.push({ from: index, to: index, text, isOther, isAbsent });
  });
  return cells;
}

const sittingNames = ({ sittings }: StudyDocument, only: readonly string[]): string =>
  sittings
    .filter(({ id }) => only.includes(id))
    .map(({ name }) => name)
    .join(", ");

const sittingNumbers = ({ sittings }: StudyDocument, only: readonly string[]): string => {
  const numbers = sittings.flatMap(({ id }, index) => (only.includes(id) ? [index + 1] : []));
  return `${numbers.length === 1 ? "sitting" : "sittings"} ${numbers.join(", ")}`;
};

const inMinutes = (minutes: number) => (minutes < 0.75 ? "½ min" : `${Math.round(minutes)} min`);

/** One part of the running order: its brackets in the gutter, its name, what each group has of it. */
export function PartRow({
  row,
  rows,
  number,
  columns,
  gutter,
  minutes: measured,
  isSelected,
}: {
  row: PlanRow;
  rows: readonly PlanRow[];
  number: number;
  columns: string;
  gutter: number;
  minutes: number | undefined;
  isSelected: boolean;
}) {
  const { part, node, brackets } = row;
  const { document, edit, look, view } = useStudy();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: part.id,
  });
  const Icon = part.kind === "page" ? FileText : part.practice ? Repeat2 : LayoutGrid;
  const minutes = measured ?? partMinutes(document, part.id);
  // Where there are many groups, or it says in which sittings the part is, the name needs the room; the minutes are in the tooltip then.
  const isNarrow = document.groups.length > 3 || node.onlySittings !== undefined;
  const size =
    part.kind === "page"
      ? inMinutes(minutes)
      : isNarrow
        ? `${trialsInBlock(part)} tr.`
        : `${trialsInBlock(part)} trials · ${inMinutes(minutes)}`;
  const anchor =
    view.selected.kind === "parts" ? view.selected.from : view.selected.kind === "part" ? view.selected.part : null;
  const reach = (to: string) => {
    if (anchor === null || anchor === to) look({ selected: { kind: "part", part: to }, part: to });
    else look({ selected: { kind: "parts", from: anchor, to } });
  };
  const choose = (event: MouseEvent) => {
    if (event.shiftKey || event.ctrlKey || event.metaKey) reach(part.id);
    else look({ selected: { kind: "part", part: part.id }, part: part.id });
  };
  const keys = (event: KeyboardEvent<HTMLButtonElement>) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key] as 1 | -1 | undefined;
    if (by === undefined) return;
    event.preventDefault();
    if (event.altKey || event.ctrlKey) return edit(stepNode(part.id, by));
    const next = rows[number - 1 + by];
    if (!next) return;
    const table = event.currentTarget.closest("[role=table]");
    table?.querySelector<HTMLElement>(`[data-part="${next.part.id}"]`)?.focus();
    if (event.shiftKey) reach(next.part.id);
    else look({ selected: { kind: "part", part: next.part.id }, part: next.part.id });
  };
  const cells = cellsOf(row, document);
  return (
    <div
      ref={setNodeRef}
      role="row"
      data-part-row={part.name}
      style={{ transform: CSS.Translate.toString(transform), transition, gridTemplateColumns: columns }}
      className={`relative grid ${rows.length > 12 ? "min-h-[29px]" : "min-h-[39px]"} border-b border-hairline last:border-b-0 ${isDragging ? "z-10 bg-sheet opacity-80" : ""}`}
    >
      {brackets.length > 0 && (
        <span role="cell" className="absolute inset-y-0 left-0 w-0">
          {brackets.map(({ bracket, begins, ends }, depth) => {
            const isChosen = view.selected.kind === "bracket" && view.selected.bracket === bracket.id;
            const { from, to } = bracketExtent(rows, bracket.id);
            const name = `${arrangementKind(bracket.arrange).name}, parts ${from} to ${to}`;
            return (
              <button
                key={bracket.id}
                type="button"
                title={name}
                aria-label={begins ? `Bracket: ${name}` : undefined}
                aria-hidden={begins ? undefined : true}
                tabIndex={begins ? 0 : -1}
                aria-pressed={begins ? isChosen : undefined}
                onClick={() => look({ selected: { kind: "bracket", bracket: bracket.id } })}
                style={{
                  left: depth * 15 + 4 - gutter,
                  top: begins ? 3 + depth * 3 : -1,
                  bottom: ends ? 3 + depth * 3 : 0,
                }}
                className={`absolute w-[14px] border-l-2 border-plumage hover:bg-plumage-tint ${begins ? "rounded-tl-[5px] border-t-2" : ""} ${ends ? "rounded-bl-[5px] border-b-2" : ""} ${isChosen ? "bg-plumage-tint" : ""}`}
              />
            );
          })}
        </span>
      )}
      <span
        role="cell"
        style={{ left: -36 }}
        className="absolute top-0 flex h-full w-9 items-center justify-end gap-0.5 pr-2.5 text-xs"
      >
        <button
          ref={setActivatorNodeRef}
          type="button"
          aria-label={`Move ${part.name}: press space, then the arrow keys`}
          title="Drag to another place"
          className="cursor-grab text-muted/60 hover:text-ink"
          {...attributes}
          {...listeners}
          role="button"
        >
          <GripVertical size={13} aria-hidden="true" />
        </button>
        <span className="font-mono text-muted">{node.aside ? "–" : number}</span>
      </span>
      <span
        role="rowheader"
        className={`min-w-0 border-r border-hairline ${isSelected ? "border-l-[3px] border-l-plumage bg-plumage-tint" : ""}`}
      >
        <button
          type="button"
          data-part={part.id}
          aria-pressed={isSelected}
          onClick={choose}
          onKeyDown={keys}
          className="flex h-full w-full items-center gap-2 px-3 text-left hover:bg-plumage-tint"
        >
          <Icon size={16} aria-hidden="true" className="shrink-0" />
          <span className="min-w-0 truncate font-bold" title={part.name}>
            {part.name}
          </span>
          {part.kind === "block" && part.sharesWith && (
            <span title={`The same trials as ${document.parts[part.sharesWith]?.name ?? "another block"}`}>
              <Link2 size={13} aria-hidden="true" className="text-muted" />
            </span>
          )}
          {node.onlySittings && (
            <span
              className="shrink-0 rounded-[4px] bg-plumage-tint px-1 text-xs text-plumage"
              title={`Only in ${sittingNames(document, node.onlySittings)}`}
            >
              {sittingNumbers(document, node.onlySittings)}
            </span>
          )}
          {node.aside && (
            <span
              className="shrink-0 rounded-[4px] bg-sheen-tint px-1 text-xs text-sheen"
              title="No part of the order: only rules and “until good enough” show it"
            >
              by rules
            </span>
          )}
          {part.kind === "block" && part.criterion && (
            <span
              className="shrink-0 rounded-[4px] bg-sheen-tint px-1 text-xs text-sheen"
              title={`Up to ${part.criterion.attempts} times, until ${criterionInWords(part.criterion, { document, block: part })}`}
            >
              ≤ {part.criterion.attempts}×
            </span>
          )}
          {node.when && (
            <span
              className="shrink-0 rounded-[4px] bg-sheen-tint px-1 text-xs text-sheen"
              title={`Only if ${conditionInWords(node.when, document, null)}`}
            >
              if
            </span>
          )}
          <span
            className="ml-auto shrink-0 text-sm text-muted"
            title={`${part.kind === "block" ? `${trialsInBlock(part)} trials, ` : ""}about ${inMinutes(minutes)}${measured === undefined ? "" : ", as measured"}`}
          >
            {size}
          </span>
        </button>
      </span>
      {cells.map(({ from, to, text, isOther, isAbsent }, index) => (
        <span
          key={from}
          role="cell"
          style={{ gridColumn: `${from + 2} / ${to + 3}` }}
          className={`flex min-w-0 flex-wrap items-center gap-x-2 px-3 text-sm ${index > 0 ? "border-l border-hairline" : ""} ${isOther ? "bg-sheen-tint text-sheen" : ""} ${isAbsent ? "bg-paper text-muted" : ""}`}
        >
          {isAbsent ? (
            <span className="mx-auto">not in {to > from ? "these groups" : "this group"}</span>
          ) : cells.length === 1 ? (
            <span className="flex w-full items-center gap-3 text-muted">
              <span aria-hidden="true" className="h-px flex-1 bg-hairline" />
              same for all{text === null ? "" : `: ${text}`}
              <span aria-hidden="true" className="h-px flex-1 bg-hairline" />
            </span>
          ) : (
            (text ?? (to > from ? "same for these" : "as listed"))
          )}
        </span>
      ))}
    </div>
  );
}

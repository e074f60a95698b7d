import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { Button } from "~/app/components/button";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { orderable } from "~/core/order/orderable";
import { setOrder } from "~/core/design/edits/parts";
import { trialsInBlock } from "~/core/design/lookup";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import type { SubBlockArrangement } from "~/core/design/trial-order";
import { readSequences } from "~/core/order/given";
import { LimitsEditor } from "./limits-editor";
import { Choice, ChoiceLine, NumberField, Property, Section } from "~/app/components/fields";

const subBlocks: readonly (readonly [SubBlockArrangement, string])[] = [
  ["shuffled", "in shuffled order"],
  ["listed", "in the table's order"],
  ["latin-square", "in a Latin square"],
];

/** Preflight's findings on the order stand here, beside what can be changed. */
export const isOfOrder = (where: string) => where.endsWith("order of trials");

/** How a block's trials are ordered: method, passes, how many are taken, what stays together, limits. */
export function OrderSettings({ block }: { block: Block }) {
  const { edit } = useStudy();
  const { order, table } = block;
  const all = table.rows.reduce((sum, { copies }) => sum + copies, 0);
  const troubles = useFindings().filter(({ target, where }) => target.part === block.id && isOfOrder(where));
  const isDrawn = order.method === "shuffled" || order.method === "with-replacement";
  const columns = table.columns.map(({ id, name }) => [id, name] as const);
  const name = (id: Id) => table.columns.find((column) => column.id === id)?.name ?? "?";
  return (
    <Section title="Order of trials" aside={`${trialsInBlock(block)} trials`}>
      <ChoiceLine
        says="Order"
        value={order.method}
        options={[
          ["shuffled", "shuffled"],
          ["as-listed", "as listed"],
          ["with-replacement", "drawn with replacement"],
          ["given", "given by a file"],
        ]}
        onChange={(method) => edit(setOrder(block.id, { method }))}
      />
      <Property label="Passes" htmlFor="block-passes">
        <NumberField
          id="block-passes"
          value={order.passes}
          whole
          least={1}
          onChange={(passes) => edit(setOrder(block.id, { passes }), "passes")}
        />
      </Property>
      {order.method === "given" ? (
        <GivenOrder block={block} />
      ) : (
        <Property label="In a pass" htmlFor="block-take">
          <span className="w-14">
            <NumberField
              id="block-take"
              value={order.take ?? all}
              whole
              least={1}
              onChange={(take) =>
                edit(
                  setOrder(block.id, take === all ? { take: undefined, takeEach: undefined } : { take }),
                  `take ${block.id}`,
                )
              }
            />
          </span>
          <span className="text-sm text-muted">of {all} trials</span>
        </Property>
      )}
      {order.take !== undefined &&
        order.take !== all &&
        (order.method === "shuffled" || order.method === "as-listed") && (
          <Property label="Evenly of">
            <Choice
              label="Taken evenly of each"
              value={(order.takeEach ?? [])[0] ?? ""}
              options={[
                ["", "all rows alike"],
                ...columns,
                ...((order.takeEach?.length ?? 0) > 1
                  ? [[order.takeEach?.[0] ?? "", (order.takeEach ?? []).map(name).join(" × ")] as const]
                  : []),
              ]}
              onChange={(column) => edit(setOrder(block.id, { takeEach: column === "" ? undefined : [column] }))}
            />
          </Property>
        )}
      {(order.method === "shuffled" || order.method === "as-listed") && (
        <Property label="Together">
          <Choice
            label="Rows that stay together"
            value={order.within ?? ""}
            options={[["", "nothing kept together"], ...columns.map(([id, words]) => [id, `equal ${words}`] as const)]}
            onChange={(column) =>
              edit(setOrder(block.id, column === "" ? { within: undefined, subBlocks: undefined } : { within: column }))
            }
          />
        </Property>
      )}
      {order.within !== undefined && (order.method === "shuffled" || order.method === "as-listed") && (
        <ChoiceLine
          says="These come"
          value={order.subBlocks ?? "shuffled"}
          options={subBlocks}
          onChange={(arrange) => edit(setOrder(block.id, { subBlocks: arrange }))}
        />
      )}
      {(isDrawn || order.limits.length > 0) && <LimitsEditor block={block} />}
      {troubles.map(({ message, level }) => (
        <p
          key={message}
          role={level === "error" ? "alert" : undefined}
          className={`mt-1 rounded-md px-2 py-1.5 text-sm ${level === "error" ? "bg-alarm-tint text-alarm" : "text-muted"}`}
        >
          {message}
        </p>
      ))}
    </Section>
  );
}

/** Reading explicit sequences from a file, with what does not match. */
function GivenOrder({ block }: { block: Block }) {
  const { document, edit } = useStudy();
  const input = useRef<HTMLInputElement>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const [notes, setNotes] = useState<string[]>([]);
  const { given } = block.order;
  const read = async (file: File | undefined) => {
    if (!file) return;
    const asked = orderable(document, block, document.groups[0]?.id ?? "");
    const found = readSequences(await file.text(), block, (row, column) => String(asked.valueOf(row, column) ?? ""));
    setProblems(found.problems);
    setNotes(found.notes);
    if (found.problems.length === 0)
      edit(setOrder(block.id, { given: { file: file.name.slice(0, 200), sequences: found.sequences } }));
  };
  return (
    <div className="grid gap-1.5 py-1 text-sm">
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        aria-label="File of sequences"
        className="sr-only"
        tabIndex={-1}
        onChange={({ target }) => {
          void read(target.files?.[0]);
          target.value = "";
        }}
      />
      <p>
        {given
          ? `${given.sequences.length === 1 ? "One sequence" : `${given.sequences.length} sequences`} from ${given.file}, ${given.sequences[0]?.rows.length ?? 0} trials${given.sequences.some(({ participant }) => participant === null) ? ", the same for everyone" : ""}.`
          : "A CSV file with a column “row”; with “participant” each has a sequence of their own."}
      </p>
      <Button icon={FileUp} className="justify-self-start" onClick={() => input.current?.click()}>
        {given ? "Choose another file" : "Choose a file"}
      </Button>
      {problems.length > 0 && (
        <div role="alert" className="text-alarm">
          <p className="font-semibold">
            {problems.length === 1 ? "One thing does not match" : `${problems.length} things do not match`}, so nothing
            was taken over:
          </p>
          <ul className="list-disc pl-4">
            {problems.slice(0, 8).map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
          {problems.length > 8 && <p>and {problems.length - 8} more.</p>}
        </div>
      )}
      {notes.map((note) => (
        <p key={note} className="text-muted">
          {note}
        </p>
      ))}
    </div>
  );
}

import { useFindings, useStudy } from "~/app/editing/use-study";
import { setBlock, setPart } from "~/core/design/edits/parts";
import type { Block } from "~/core/design/block";
import { partNameProblem } from "~/core/design/part-labels";
import { NotesField } from "./notes-field";
import { isOfOrder, OrderSettings } from "./order-settings";
import { BreakSettings } from "./break-settings";
import { OtherBlocks } from "./other-blocks";
import { Choice, Property, Section, TextField, Switch } from "~/app/components/fields";

/** The block's own settings: name, order, passes, practice. */
export function BlockSettings({ block }: { block: Block }) {
  const { document, edit } = useStudy();
  return (
    <>
      <Section title="What">
        <Property label="Name" htmlFor="block-name">
          <TextField
            id="block-name"
            value={block.name}
            onChange={(name) => edit(setPart(block.id, { name }), `block ${block.id}`)}
            problem={(name) => partNameProblem(document, block.id, name)}
          />
        </Property>
        <Switch
          label="Practice"
          means="left out of results"
          checked={block.practice}
          onChange={(on) => edit(setBlock(block.id, { practice: on }))}
        />
        <Property label="Timed" htmlFor="block-timed">
          <Choice
            id="block-timed"
            value={block.timedFrom ?? "scene"}
            options={[
              ["scene", "each scene from its onset"],
              ["trial", "all scenes from the trial’s onset"],
            ]}
            onChange={(from) => edit(setBlock(block.id, { timedFrom: from === "trial" ? "trial" : undefined }))}
          />
        </Property>
      </Section>
      <OrderSettings block={block} />
      <BreakSettings block={block} />
      <OtherBlocks block={block} />
      <Section title="Notes">
        <NotesField
          label={`Notes on ${block.name}`}
          value={block.notes}
          onChange={(notes) => edit(setPart(block.id, { notes }), `notes ${block.id}`)}
        />
      </Section>
      <Troubles part={block.id} />
    </>
  );
}

/** What preflight finds in this part, notes left out. */
function Troubles({ part }: { part: string }) {
  const found = useFindings().filter(
    ({ target, level, where }) => target.part === part && level !== "note" && !isOfOrder(where),
  );
  if (found.length === 0) return null;
  return (
    <section className="mt-5 border-t border-hairline pt-3">
      <h3 className="font-semibold text-chestnut">
        {found.length === 1 ? "One thing to check" : `${found.length} things to check`}
      </h3>
      <ul className="mt-1 grid gap-2 text-sm">
        {found.map(({ where, message, level }) => (
          <li key={where + message}>
            <span className={level === "error" ? "font-semibold text-alarm" : "font-semibold"}>
              {where.replace(/^block “[^”]*”,? ?/, "") || "this block"}:
            </span>{" "}
            {message}
          </li>
        ))}
      </ul>
    </section>
  );
}

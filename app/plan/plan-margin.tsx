import { Copy, MoveDown, MoveUp, PencilRuler, Trash2 } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { BlockSettings } from "~/app/compose/block-settings";
import { Margin } from "~/app/compose/margin";
import { Choice, Property, Section, TextField } from "~/app/compose/property";
import { keyLabel } from "~/core/describe/words";
import { Button, IconButton } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { RemoveUsed } from "~/app/components/used-first";
import { newId, useStudy } from "~/app/editing/use-study";
import { StudySettings } from "~/app/plan/study-settings";
import { conditionColor } from "~/app/ribbon/palette";
import { plannedPlace } from "~/core/allocate/allocate";
import { copyPart, movePart, removePart, setPart } from "~/core/design/edits/parts";
import {
  removeGroup,
  removeGroupValue,
  renameGroup,
  renameGroupValue,
  setGroupValue,
  setGroupValueType,
} from "~/core/design/edits/study";
import { partsInOrder } from "~/core/design/lookup";
import { nameProblem, namesEverywhere } from "~/core/design/names";
import { placeInWords } from "~/core/design/places";
import { usesIn } from "~/core/design/uses";
import type { Group, GroupValue, Part, ValueType } from "~/core/design/types";

export function PlanMargin() {
  const {
    document,
    view: { selected },
  } = useStudy();
  const part = selected.kind === "part" ? document.parts[selected.part] : undefined;
  const group = selected.kind === "group" ? document.groups.find(({ id }) => id === selected.group) : undefined;
  const value =
    selected.kind === "group-value" ? document.groupValues.find(({ id }) => id === selected.value) : undefined;
  if (part) return <PartSettings key={part.id} part={part} />;
  if (group) return <GroupSettings key={group.id} group={group} />;
  if (value) return <GroupValueSettings key={value.id} value={value} />;
  return (
    <Margin title="The study" kind="as a whole">
      <StudySettings />
      <WhoGetsWhat count={8} />
    </Margin>
  );
}

function PartSettings({ part }: { part: Part }) {
  const { code, document, edit, look } = useStudy();
  const [removing, setRemoving] = useState(false);
  const navigate = useNavigate();
  const parts = partsInOrder(document);
  const place = parts.findIndex(({ id }) => id === part.id);
  const remove = () => {
    edit(removePart(part.id));
    look({ selected: { kind: "nothing" } });
  };
  return (
    <Margin
      title={part.name}
      kind={part.kind === "page" ? "page" : part.practice ? "practice block" : "block"}
      actions={
        <>
          <IconButton
            icon={MoveUp}
            label="Move up"
            disabled={place <= 0}
            onClick={() => edit(movePart(part.id, place - 1))}
          />
          <IconButton
            icon={MoveDown}
            label="Move down"
            disabled={place >= parts.length - 1}
            onClick={() => edit(movePart(part.id, place + 1))}
          />
          <IconButton icon={Copy} label="Copy the part" onClick={() => edit(copyPart(part.id, newId(part.kind)))} />
          <IconButton icon={Trash2} label="Remove the part" onClick={() => setRemoving(true)} />
        </>
      }
    >
      {part.kind === "block" ? (
        <BlockSettings block={part} />
      ) : (
        <Section title="What">
          <Property label="Name" htmlFor="part-name">
            <TextField
              id="part-name"
              value={part.name}
              onChange={(name) => edit(setPart(part.id, { name }), `name ${part.id}`)}
              problem={(name) => (name.trim() ? null : "A page needs a name.")}
            />
          </Property>
        </Section>
      )}
      <div className="mt-3">
        <Button
          icon={PencilRuler}
          onClick={() => {
            look({ part: part.id, trial: null, row: null, selected: { kind: "nothing" } });
            void navigate(`/studies/${code}/compose`);
          }}
        >
          {part.kind === "page" ? "Write the page" : "Compose the trial"}
        </Button>
      </div>
      <WhoGetsWhat count={8} />
      <Dialog
        open={removing}
        onOpenChange={setRemoving}
        title={`Remove “${part.name}”?`}
        description={
          part.kind === "block"
            ? `Its trial, its table of ${part.table.rows.length} rows and its place in the order go with it. Undo brings it back.`
            : "Its text goes with it. Undo brings it back."
        }
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setRemoving(false)}>Keep it</Button>
          <Button look="alarm" onClick={remove}>
            Remove
          </Button>
        </div>
      </Dialog>
    </Margin>
  );
}

function GroupSettings({ group }: { group: Group }) {
  const { document, edit, look } = useStudy();
  return (
    <Margin
      title={group.name}
      kind="group"
      actions={
        <IconButton
          icon={Trash2}
          label={document.groups.length < 2 ? "The last group cannot be removed" : "Remove the group"}
          disabled={document.groups.length < 2}
          onClick={() => {
            edit(removeGroup(group.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="group-name">
          <TextField
            id="group-name"
            value={group.name}
            onChange={(name) => edit(renameGroup(group.id, name), `group ${group.id}`)}
            problem={(name) =>
              !name.trim()
                ? "A group needs a name."
                : document.groups.some((each) => each.id !== group.id && each.name.toLowerCase() === name.toLowerCase())
                  ? "Another group has this name."
                  : null
            }
          />
        </Property>
      </Section>
      <Section title="Its values">
        {document.groupValues.map((value) => (
          <Property key={value.id} label={value.name}>
            <TextField
              label={`${value.name} in ${group.name}`}
              value={String(value.perGroup[group.id] ?? "")}
              onChange={(text) => edit(setGroupValue(value.id, group.id, text), `value ${value.id}${group.id}`)}
            />
          </Property>
        ))}
        {document.groupValues.length === 0 && (
          <p className="text-sm text-muted">No group values yet. “Group value” above the table adds one.</p>
        )}
      </Section>
      <WhoGetsWhat count={8} />
    </Margin>
  );
}

const valueTypes: readonly (readonly [ValueType, string])[] = [
  ["key", "a key"],
  ["text", "text"],
  ["number", "a number"],
];

function GroupValueSettings({ value }: { value: GroupValue }) {
  const { document, edit, look } = useStudy();
  const uses = Object.entries(document.parts)
    .flatMap(([id, part]) => usesIn(part, `parts.${id}`))
    .filter(({ ref }) => "groupValue" in ref && ref.groupValue === value.id);
  const places = [...new Set(uses.map(({ path }) => placeInWords(document, path.replace(/\.(from|ref)$/, ""))))];
  return (
    <Margin
      title={<span className="font-mono text-sm">{value.name}</span>}
      kind="group value"
      actions={
        <RemoveUsed
          label="Remove it"
          uses={places}
          onRemove={() => {
            edit(removeGroupValue(value.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="value-name">
          <TextField
            id="value-name"
            value={value.name}
            onChange={(name) => edit(renameGroupValue(value.id, name), `rename ${value.id}`)}
            problem={(name) => nameProblem(name, namesEverywhere(document, value.id))}
          />
        </Property>
        <Property label="Is" htmlFor="value-type">
          <Choice
            id="value-type"
            value={value.type}
            options={valueTypes}
            onChange={(type) => edit(setGroupValueType(value.id, type))}
          />
        </Property>
      </Section>
      <Section title="For each group">
        {document.groups.map((group) => (
          <Property key={group.id} label={group.name}>
            <TextField
              label={`${value.name} in ${group.name}`}
              value={String(value.perGroup[group.id] ?? "")}
              onChange={(text) => edit(setGroupValue(value.id, group.id, text), `value ${value.id}${group.id}`)}
            />
          </Property>
        ))}
      </Section>
      <Section title="Used in">
        {places.length === 0 ? (
          <p className="text-sm text-muted">Nowhere yet.</p>
        ) : (
          <ul className="list-disc pl-4 text-sm">
            {places.map((place) => (
              <li key={place}>{place}</li>
            ))}
          </ul>
        )}
      </Section>
    </Margin>
  );
}

/** The next participants with their group, and how the groups fill. */
function WhoGetsWhat({ count }: { count: number }) {
  const { document, view, look } = useStudy();
  const participants = Array.from({ length: count }, (_, index) => index + 1);
  const groups = participants.map((participant) => plannedPlace(document, participant).group);
  const firstKey = document.groupValues.filter(({ type }) => type === "key");
  return (
    <section className="mt-5">
      <div className="flex items-baseline justify-between">
        <h3 className="text-xs font-semibold text-muted">Who gets what</h3>
        <span className="text-xs text-muted">participants 1 to {count}</span>
      </div>
      <table className="mt-1 w-full text-left text-sm">
        <thead>
          <tr className="h-6 border-b border-hairline text-xs text-muted">
            <th scope="col" className="px-1 font-normal">
              no.
            </th>
            <th scope="col" className="font-normal">
              group
            </th>
            <th scope="col" className="font-normal">
              {firstKey.map(({ name }) => name).join(" ")}
            </th>
          </tr>
        </thead>
        <tbody>
          {participants.map((participant, index) => {
            const at = document.groups.findIndex(({ id }) => id === groups[index]);
            return (
              <tr
                key={participant}
                className={`h-[25px] border-b border-hairline ${view.participant === participant ? "bg-plumage-tint" : ""}`}
              >
                <td className="px-1 font-mono text-xs">
                  <button
                    type="button"
                    className="hover:underline"
                    aria-label={`Show participant ${participant} in the ribbon`}
                    onClick={() => look({ participant, trial: null })}
                  >
                    {participant}
                  </button>
                </td>
                <td>
                  <span className="flex items-center gap-1.5">
                    <span
                      aria-hidden="true"
                      className="size-2.5 rounded-full"
                      style={{ background: conditionColor(at) }}
                    />
                    {document.groups[at]?.name}
                  </span>
                </td>
                <td>
                  <span className="flex gap-1">
                    {firstKey.map((value) => (
                      <kbd
                        key={value.id}
                        className="rounded-[4px] border border-hairline px-1.5 font-mono text-xs leading-4"
                      >
                        {keyLabel(String(value.perGroup[groups[index] ?? ""] ?? "?"))}
                      </kbd>
                    ))}
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="mt-2 text-sm text-muted">
        Each{" "}
        {document.groups.length === 1
          ? "participant is in the one group"
          : `${document.groups.length} participants in a row fill every group once`}
        ; the order is drawn from the seed.
      </p>
    </section>
  );
}

import { UsedIn } from "~/app/components/used-in";
import { LongText } from "~/app/components/long-text";
import { Copy, MoveDown, MoveUp, PencilRuler, Trash2 } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { BlockSettings } from "~/app/compose/block-settings";
import { Margin } from "~/app/compose/margin";
import { Choice, NumberField, Property, Section, TextField } from "~/app/components/fields";
import { Button, IconButton } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { RemoveUsed } from "~/app/components/used-first";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { Menu, MenuItem } from "~/app/components/menu";
import { partNameProblem } from "~/core/design/part-labels";
import { NotesField } from "~/app/compose/notes-field";
import { AllocationSettings } from "~/app/plan/allocation-settings";
import { BracketSettings, PartsSettings } from "~/app/plan/bracket-settings";
import { PartPlacing } from "~/app/plan/part-placing";
import { planRows } from "~/app/plan/plan-rows";
import { StudySettings } from "~/app/plan/study-settings";
import { PoolList } from "~/app/plan/pool-list";
import { placedRule } from "~/app/compose/rules/places";
import { RuleMargin } from "~/app/compose/rules/rule-margin";
import { RulesSection } from "~/app/compose/rules/rules-section";
import { ServiceList, ServiceSettings } from "~/app/plan/services";
import { VariableList, VariableSettings } from "~/app/plan/variables";
import { WhoGetsWhat } from "~/app/plan/who-gets-what";
import { bracketsIn } from "~/core/order/parts";
import { shareOf } from "~/core/allocate/scheme";
import { copyPart, removePart, setPart, sameBlockAgain } from "~/core/design/edits/parts";
import { stepNode } from "~/core/design/edits/running-order";
import {
  removeGroup,
  removeGroupValue,
  renameGroup,
  renameGroupValue,
  setGroupValue,
  setGroupValueType,
  setShare,
} from "~/core/design/edits/study";
import { partNodes } from "~/core/design/lookup";
import { ownColumnNames } from "~/core/export/tables/trials";
import { nameProblem } from "~/core/values/names";
import { namesEverywhere } from "~/core/design/names-in-reach";
import { pathInWords } from "~/core/design/path-in-words";
import { usesIn } from "~/core/values/uses";
import type { Group, GroupValue, ValueType } from "~/core/values/study-values";
import { usesOfPage } from "~/core/design/uses-of-rules";
import type { Part } from "~/core/design/document";

const wholeStudy = { part: null, scene: null };

export function PlanMargin() {
  const {
    document,
    look,
    view: { selected },
  } = useStudy();
  const part = selected.kind === "part" ? document.parts[selected.part] : undefined;
  const group = selected.kind === "group" ? document.groups.find(({ id }) => id === selected.group) : undefined;
  const value =
    selected.kind === "group-value" ? document.groupValues.find(({ id }) => id === selected.value) : undefined;
  const bracket =
    selected.kind === "bracket"
      ? bracketsIn(document.runningOrder).find(({ id }) => id === selected.bracket)
      : undefined;
  if (bracket) return <BracketSettings key={bracket.id} bracket={bracket} />;
  if (selected.kind === "parts") return <PartsSettings from={selected.from} to={selected.to} />;
  if (selected.kind === "allocation") return <AllocationSettings />;
  if (part) return <PartSettings key={part.id} part={part} />;
  if (group) return <GroupSettings key={group.id} group={group} />;
  const variable =
    selected.kind === "variable" ? document.variables.find(({ id }) => id === selected.variable) : undefined;
  const placed = selected.kind === "rule" ? placedRule(document, selected.rule, null) : undefined;
  if (placed)
    return (
      <RuleMargin
        key={placed.rule.id}
        placed={placed}
        up={{ name: "The study", holds: "as a whole", go: () => look({ selected: { kind: "nothing" } }) }}
      />
    );
  const service = selected.kind === "service" ? document.services.find(({ id }) => id === selected.service) : undefined;
  if (service) return <ServiceSettings key={service.id} service={service} />;
  if (variable) return <VariableSettings key={variable.id} variable={variable} />;
  if (value) return <GroupValueSettings key={value.id} value={value} />;
  return (
    <Margin title="The study" kind="as a whole">
      <VariableList />
      <PoolList />
      <ServiceList />
      <RulesSection rules={document.rules} place={wholeStudy} />
      <StudySettings />
      <WhoGetsWhat />
    </Margin>
  );
}

function PartSettings({ part }: { part: Part }) {
  const { code, document, edit, look } = useStudy();
  const [removing, setRemoving] = useState(false);
  const navigate = useNavigate();
  const shownBy = usesOfPage(document, part.id);
  const rows = planRows(document);
  const index = rows.findIndex((each) => each.part.id === part.id);
  const row = rows[index];
  const remove = () => {
    edit(removePart(part.id));
    look({ selected: { kind: "nothing" } });
  };
  /** Makes a copy, which is selected then. */
  const copied = (make: typeof copyPart, id: string) => {
    edit(make(part.id, id));
    look({ part: id, selected: { kind: "part", part: id } });
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
            disabled={index <= 0 && !row?.brackets.length}
            onClick={() => edit(stepNode(part.id, -1))}
          />
          <IconButton
            icon={MoveDown}
            label="Move down"
            disabled={index >= rows.length - 1 && !row?.brackets.length}
            onClick={() => edit(stepNode(part.id, 1))}
          />
          {part.kind === "page" ? (
            <IconButton icon={Copy} label="Copy the part" onClick={() => copied(copyPart, newId(part.kind))} />
          ) : (
            <Menu trigger={<IconButton icon={Copy} label="Copy the part" />}>
              <MenuItem onSelect={() => copied(copyPart, newId("block"))}>An independent copy</MenuItem>
              <MenuItem onSelect={() => copied(sameBlockAgain, newId("block"))}>
                The same block again: editing one changes the other
              </MenuItem>
            </Menu>
          )}
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
              problem={(name) => partNameProblem(document, part.id, name)}
            />
          </Property>
        </Section>
      )}
      {row && <PartPlacing row={row} />}
      {part.kind === "page" && (
        <Section title="Notes">
          <NotesField
            label={`Notes on ${part.name}`}
            value={part.notes}
            onChange={(notes) => edit(setPart(part.id, { notes }), `notes ${part.id}`)}
          />
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
      <WhoGetsWhat />
      <Dialog
        open={removing}
        onOpenChange={setRemoving}
        title={`Remove “${part.name}”?`}
        description={
          part.kind === "block"
            ? `Its trial, its table of ${part.table.rows.length} rows and its place in the order go with it. Undo brings it back.`
            : `Its text goes with it. Undo brings it back.${shownBy.length > 0 ? ` It is shown by ${shownBy.join("; ")}.` : ""}`
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
      <Section title="Allocation">
        <Property label="Share" htmlFor="group-share">
          <span className="w-14">
            <NumberField
              id="group-share"
              value={shareOf(group)}
              whole
              least={1}
              onChange={(share) => share <= 20 && edit(setShare(group.id, share), `share ${group.id}`)}
            />
          </span>
          <span className="text-sm text-muted">of {document.groups.map(shareOf).join(" : ")}</span>
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
          <p className="text-sm text-muted">No group values yet. “Group” above the table adds one.</p>
        )}
      </Section>
      <WhoGetsWhat />
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
  const conditions = partNodes(document.runningOrder).flatMap(({ part, when }) =>
    usesIn(when).some(({ ref }) => "groupValue" in ref && ref.groupValue === value.id)
      ? [`the condition of ${document.parts[part]?.name ?? part}`]
      : [],
  );
  const users = [
    ...new Set([...uses.map(({ path }) => pathInWords(document, path.replace(/\.(from|ref)$/, ""))), ...conditions]),
  ];
  return (
    <Margin
      title={<span className="font-mono text-sm">{value.name}</span>}
      kind="group value"
      actions={
        <RemoveUsed
          label="Remove it"
          uses={users}
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
            problem={(name) => nameProblem(name, namesEverywhere(document, value.id), ownColumnNames(document))}
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
            {value.type === "text" && (
              <LongText
                label={`${value.name} in ${group.name}`}
                value={String(value.perGroup[group.id] ?? "")}
                onChange={(text) => edit(setGroupValue(value.id, group.id, text), `value ${value.id}${group.id}`)}
              />
            )}
          </Property>
        ))}
      </Section>
      <UsedIn uses={users} />
    </Margin>
  );
}

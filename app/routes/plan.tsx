import { FilePlus2, LayoutGrid, Settings2, SplitSquareHorizontal, Users } from "lucide-react";
import { PlanMargin } from "~/app/plan/plan-margin";
import { PlanTable } from "~/app/plan/plan-table";
import { Button } from "~/app/components/button";
import { newId, useStudy } from "~/app/editing/use-study";
import { expectedMinutes } from "~/core/compile/ribbon";
import { newBlock, newPage } from "~/core/design/defaults";
import { addPart } from "~/core/design/edits/parts";
import { addGroup, addGroupValue } from "~/core/design/edits/study";
import { partsInOrder } from "~/core/design/lookup";
import { freeName, freeTitle, namesEverywhere } from "~/core/design/names";

export default function Plan() {
  const { document, edit, look, view } = useStudy();
  const parts = partsInOrder(document);
  const minutes = Math.max(1, Math.round(expectedMinutes(document)));
  const behind = view.selected.kind === "part" ? view.selected.part : null;
  const add = (kind: "page" | "block") => {
    const name = freeTitle(
      kind === "page" ? "Page" : "Block",
      parts.map((part) => part.name),
    );
    const part = kind === "page" ? newPage(newId, name) : newBlock(newId, name);
    edit(addPart(part, behind));
    look({ selected: { kind: "part", part: part.id }, part: part.id });
  };
  const newGroup = () => {
    const group = {
      id: newId("group"),
      name: freeTitle(
        "Group",
        document.groups.map(({ name }) => name),
      ),
    };
    edit(addGroup(group));
    look({ selected: { kind: "group", group: group.id } });
  };
  const newValue = () => {
    const value = {
      id: newId("value"),
      name: freeName("key_left", namesEverywhere(document, null)),
      type: "key" as const,
      perGroup: Object.fromEntries(document.groups.map(({ id }) => [id, "f"])),
    };
    edit(addGroupValue(value));
    look({ selected: { kind: "group-value", value: value.id } });
  };
  return (
    <div className="flex h-full">
      <div className="flex min-w-0 flex-1 flex-col overflow-auto">
        <div className="flex h-[52px] shrink-0 items-center gap-2 px-5">
          <h1 className="caption min-w-0 truncate">
            <b>Procedure.</b> {parts.length} parts, {document.groups.length}{" "}
            {document.groups.length === 1 ? "group" : "groups"}, about {minutes} {minutes === 1 ? "minute" : "minutes"}
          </h1>
          <Button
            icon={Settings2}
            look="quiet"
            aria-pressed={view.selected.kind === "nothing"}
            onClick={() => look({ selected: { kind: "nothing" } })}
          >
            Study settings
          </Button>
          <span className="ml-auto flex shrink-0 gap-2">
            <Button icon={FilePlus2} onClick={() => add("page")}>
              Page
            </Button>
            <Button icon={LayoutGrid} onClick={() => add("block")}>
              Block
            </Button>
            <Button icon={Users} onClick={newGroup}>
              Group
            </Button>
            <Button icon={SplitSquareHorizontal} onClick={newValue}>
              Group value
            </Button>
          </span>
        </div>
        <PlanTable />
        <p className="px-5 py-3 text-muted">
          Drag a row by its handle to move it, or focus the handle and press space and the arrow keys. A new part goes
          behind the one that is selected.
        </p>
      </div>
      <PlanMargin />
    </div>
  );
}

import { BarChart3, Plus, Settings2, Shuffle, Users } from "lucide-react";
import { useState } from "react";
import { requireStudy } from "~/app/study-access.server";
import { Button, buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { toast } from "sonner";
import { useMinutes, useStudy } from "~/app/editing/use-study";
import { ManyAtOnce } from "~/app/plan/many-at-once";
import { PlanMargin } from "~/app/plan/plan-margin";
import { PlanTable } from "~/app/plan/plan-table";
import { schemeOf } from "~/core/allocate/scheme";
import { newBlock } from "~/core/design/block";
import { newPage } from "~/core/design/page";
import { addPart } from "~/core/design/edits/parts";
import { addGroup, addGroupValue, renameGroup } from "~/core/design/edits/study";
import { partNodes, partsInOrder } from "~/core/design/lookup";
import { freeName, freeTitle } from "~/core/values/names";
import { namesEverywhere } from "~/core/design/names-in-reach";
import { collectedIn } from "~/server/progress";
import { listReleases } from "~/server/releases";
import { mayDo } from "~/core/rights/rights";
import type { Route } from "./+types/plan";

/** How the cells of the newest release are filled. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-design");
  const [release] = await listReleases(context.store, study.id);
  return {
    // What has come in is shown to those who follow the sessions.
    collected:
      release && mayDo(study.roles, "see-sessions")
        ? { release: release.number, counts: await collectedIn(context.store, study.id, release) }
        : null,
  };
}

export default function Plan() {
  const { document, edit, look, measured, view } = useStudy();
  const [isMany, setIsMany] = useState(false);
  const parts = partsInOrder(document);
  // Pages that only rules show are no part of the order.
  const played = partNodes(document.runningOrder).filter(({ aside }) => !aside).length;
  const { minutes, isMeasured } = useMinutes();
  const cells = schemeOf(document).reduce((sum, scheme) => sum + scheme.cells, 0);
  const behind =
    view.selected.kind === "part" ? view.selected.part : view.selected.kind === "parts" ? view.selected.to : null;
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
    const names = document.groups.map(({ name }) => name);
    const group = { id: newId("group"), name: names.length === 1 ? "Group 2" : freeTitle("Group", names) };
    edit(addGroup(group));
    look({ selected: { kind: "group", group: group.id } });
    const [first] = document.groups;
    if (document.groups.length === 1 && first?.name === "Everyone")
      toast("The first group is still called “Everyone”.", {
        action: { label: "Call it Group 1", onClick: () => edit(renameGroup(first.id, "Group 1")) },
      });
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
    <div className="flex h-full small:h-auto small:flex-col">
      <div className="flex min-w-0 flex-1 flex-col overflow-auto">
        <div className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-x-2 gap-y-1 px-5 py-1.5">
          <h1 className="caption min-w-0">
            <b>Procedure.</b> {played} parts, {document.groups.length}{" "}
            {document.groups.length === 1 ? "group" : "groups"}, about {minutes}{" "}
            {minutes === "1" ? "minute" : "minutes"}
            {isMeasured && " as measured"}{" "}
            {cells > document.groups.length && (
              <i className="text-muted" title={`${cells} combinations of group and order, filled evenly`}>
                {cells} combinations
              </i>
            )}
          </h1>
          <span className="ml-auto flex shrink-0 gap-1.5">
            <Menu
              trigger={
                <button type="button" className={buttonClass()}>
                  <Plus size={16} aria-hidden="true" />
                  Part
                </button>
              }
            >
              <MenuItem onSelect={() => add("page")}>Page</MenuItem>
              <MenuItem onSelect={() => add("block")}>Block</MenuItem>
            </Menu>
            <Menu
              trigger={
                <button type="button" className={buttonClass()}>
                  <Users size={16} aria-hidden="true" />
                  Group
                </button>
              }
            >
              <MenuItem onSelect={newGroup}>Another group</MenuItem>
              <MenuItem onSelect={newValue}>A value that differs by group</MenuItem>
            </Menu>
            <Button
              icon={Shuffle}
              look="quiet"
              aria-pressed={view.selected.kind === "allocation"}
              onClick={() => look({ selected: { kind: "allocation" } })}
            >
              Who gets what
            </Button>
            <Button icon={BarChart3} look="quiet" onClick={() => setIsMany(true)}>
              200 at once
            </Button>
            <Button
              icon={Settings2}
              look="quiet"
              aria-pressed={view.selected.kind === "nothing"}
              onClick={() => look({ selected: { kind: "nothing" } })}
            >
              Study
            </Button>
          </span>
        </div>
        <PlanTable minutes={measured} />
        <p className="px-5 py-3 text-muted">
          Select two or more rows (Shift and click, or Shift and an arrow key) to vary their order. Drag a row by its
          handle, or press Ctrl and an arrow key, to move it.
        </p>
      </div>
      <PlanMargin />
      {isMany && <ManyAtOnce onClose={() => setIsMany(false)} />}
    </div>
  );
}

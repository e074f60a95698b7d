import { withoutUndefined } from "../../shape/without-undefined";
import type { WordingName } from "../../wording/names";
import type { Allocation } from "../allocation";
import type { Group, GroupValue, ValueType } from "../../values/study-values";
import type { Id, Scalar } from "../../values/ref";
import type { Participation } from "../participation";
import type { RunningNode } from "../running-order";
import type { Settings } from "../settings";
import type { Draft } from "immer";
import { assign, type Edit } from "./edit";

export const setTitle =
  (title: string): Edit =>
  (draft) =>
    void (draft.title = title);

/** Changes what is said of the study as a whole: its description, its language, the team's notes. */
export const setAbout =
  (about: { description?: string; language?: string; notes?: string }): Edit =>
  (draft) =>
    assign(draft, "notes" in about ? { ...about, notes: about.notes || undefined } : about);

export const setSettings =
  (settings: Partial<Settings>): Edit =>
  (draft) =>
    assign(draft.settings, settings);

/** Changes what participants meet around the parts. */
export const setParticipation =
  (change: Partial<Participation>): Edit =>
  (draft) => {
    const { checks } = change;
    assign(draft.settings.participation, checks ? { ...change, checks: withoutUndefined(checks) } : change);
  };

/** Gives a text of participants' pages the study's own words; empty ones go back to what is shipped. */
export const setWording =
  (name: WordingName, text: string): Edit =>
  (draft) => {
    const { wording } = draft.settings.participation;
    if (text === "") delete wording[name];
    else wording[name] = text;
  };

/** Adds a group; its group values start as those of the first group. */
export const addGroup =
  (group: Group): Edit =>
  (draft) => {
    const first = draft.groups[0]?.id;
    draft.groups.push(group);
    for (const value of draft.groupValues) value.perGroup[group.id] = (first && value.perGroup[first]) ?? "";
  };

/** Sets how many participants a group gets in each round of allocation. */
export const setShare =
  (id: Id, share: number): Edit =>
  (draft) => {
    const group = draft.groups.find((each) => each.id === id);
    if (group) assign(group, { share: share === 1 ? undefined : share });
  };

export const setAllocation =
  (change: Partial<Allocation>): Edit =>
  (draft) =>
    assign(draft.allocation, change);

export const renameGroup =
  (id: Id, name: string): Edit =>
  (draft) => {
    const group = draft.groups.find((each) => each.id === id);
    if (group) group.name = name;
  };

/** Removes a group with its values. The last group stays: every participant is in one. */
export const removeGroup =
  (id: Id): Edit =>
  (draft) => {
    if (draft.groups.length < 2) return;
    draft.groups = draft.groups.filter((each) => each.id !== id);
    for (const value of draft.groupValues) delete value.perGroup[id];
    if (draft.allocation.parameter) delete draft.allocation.parameter.values[id];
    withoutGroup(draft.runningOrder, id);
  };

/** Parts that only this group had would be left with no one; they go to all groups, so that nothing is lost unseen. */
function withoutGroup(nodes: Draft<RunningNode>[], id: Id): void {
  for (const node of nodes) {
    if (node.kind === "bracket") withoutGroup(node.nodes, id);
    else if (node.onlyGroups?.includes(id)) {
      const left = node.onlyGroups.filter((each) => each !== id);
      assign(node, { onlyGroups: left.length > 0 ? left : undefined });
    }
  }
}

/** Adds a group value; a group it says nothing of gets the first of its values. */
export const addGroupValue =
  (value: GroupValue): Edit =>
  (draft) => {
    const known = Object.values(value.perGroup)[0] ?? "";
    const perGroup = Object.fromEntries(draft.groups.map(({ id }) => [id, value.perGroup[id] ?? known]));
    draft.groupValues.push({ ...value, perGroup });
  };

export const setGroupValue =
  (id: Id, group: Id, value: Scalar): Edit =>
  (draft) => {
    const found = draft.groupValues.find((each) => each.id === id);
    if (found) found.perGroup[group] = value;
  };

export const renameGroupValue =
  (id: Id, name: string): Edit =>
  (draft) => {
    const found = draft.groupValues.find((each) => each.id === id);
    if (found) found.name = name;
  };

export const setGroupValueType =
  (id: Id, type: ValueType): Edit =>
  (draft) => {
    const found = draft.groupValues.find((each) => each.id === id);
    if (found) found.type = type;
  };

export const removeGroupValue =
  (id: Id): Edit =>
  (draft) => {
    draft.groupValues = draft.groupValues.filter((each) => each.id !== id);
  };

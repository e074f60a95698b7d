import { parameterStrata } from "../core/design/allocation";
import { hasSittings } from "../core/design/sittings";
import { nextNumber } from "./assignment";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
import type { SessionState } from "../core/export/tables/standing";
import { sittingsIn } from "./sittings";
import { isUnderWay, stillThereSince } from "./under-way";
import { wavesOf } from "./waves";

/** A line of the laboratory's list: somebody who was here, or is due. */
export type LabLine = {
  session: string | null;
  participant: number;
  sitting: number;
  /** The name of the group, where that may be seen. */
  group: string | null;
  state: SessionState | "broken off" | "due";
  /** When they finished, or were last seen, or since which day they are due. */
  at: string;
  trials: number;
  trialsPlanned: number;
  notes: { at: string; by: string; text: string }[];
};
/** What an assistant works with: who is next, who is due, and who was here. */
export type LabList = {
  title: string;
  waves: { id: string; name: string; isOpen: boolean }[];
  wave: string | null;
  /** The number that is given out next. */
  next: number;
  hasSittings: boolean;
  /** The groups, where they may be seen and chosen. */
  groups: { id: string; name: string }[] | null;
  /** What has to be known of somebody before they begin. */
  known: { parameter: string; values: readonly string[] }[];
  due: LabLine[];
  lines: LabLine[];
};

/** So many of those who were here, and of those who are due, are listed. */
const [mostLines, mostDue] = [30, 50];

/** The laboratory's list of a study in a wave, or in its latest. Groups are left out where they may not be seen. */
export async function labList(
  store: Store,
  study: { id: string; title: string },
  waveId: string | null,
  seesGroups: boolean,
): Promise<LabList> {
  const { db } = store;
  const waves = await wavesOf(db, study.id);
  const wave = waves.find(({ id }) => id === waveId) ?? waves.findLast(({ state }) => state === "open") ?? waves.at(-1);
  const base = {
    title: study.title,
    waves: waves.map(({ id, plan, state }) => ({ id, name: plan.name, isOpen: state === "open" })),
    next: await nextNumber(db, study.id),
  };
  if (!wave) return { ...base, wave: null, hasSittings: false, groups: null, known: [], due: [], lines: [] };
  const document = await frozenDocument(db, wave.releaseId);
  const groupName = (id: string) => document.groups.find((group) => group.id === id)?.name ?? null;
  const rows = await db
    .selectFrom("session")
    .select(["id", "participant", "sitting", "group_id", "state", "excluded_at", "finished_at", "seen_at"])
    .select(["trials", "trials_planned", "ends_by"])
    .where("study_id", "=", study.id)
    .where("wave_id", "=", wave.id)
    .where("pilot", "=", 0)
    .where("participant", ">", 0)
    .orderBy("started_at", "desc")
    .limit(mostLines)
    .execute();
  const ids = rows.map(({ id }) => id);
  const notes =
    ids.length === 0
      ? []
      : await db.selectFrom("session_note").selectAll().where("session_id", "in", ids).orderBy("at").execute();
  const since = stillThereSince(document);
  const lines = rows.map((row): LabLine => ({
    session: row.id,
    participant: row.participant,
    sitting: row.sitting,
    group: seesGroups ? groupName(row.group_id) : null,
    state: row.state === "active" && !isUnderWay(row, since) ? "broken off" : row.state,
    at: row.finished_at ?? row.seen_at,
    trials: row.trials,
    trialsPlanned: row.trials_planned,
    notes: notes
      .filter(({ session_id }) => session_id === row.id)
      .map(({ at, by_whom, text }) => ({ at, by: by_whom, text })),
  }));
  const isLong = hasSittings(document);
  const people = isLong ? (await sittingsIn(store, study.id, wave.id, document)).listed : [];
  const due = people
    .filter(({ state, next }) => next !== null && (state === "due" || state === "overdue"))
    .slice(0, mostDue)
    .map((each): LabLine => ({
      session: null,
      participant: each.participant,
      sitting: each.next ?? 1,
      group: null,
      state: "due",
      at: each.due?.from ?? "",
      trials: 0,
      trialsPlanned: 0,
      notes: [],
    }));
  return {
    ...base,
    wave: wave.id,
    hasSittings: isLong,
    groups: seesGroups && document.groups.length > 1 ? document.groups.map(({ id, name }) => ({ id, name })) : null,
    known: parameterStrata(document.allocation).map(({ parameter, values }) => ({ parameter, values })),
    due,
    lines,
  };
}

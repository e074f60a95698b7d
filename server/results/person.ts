import { valuesOf } from "../../core/stats/measures";
import type { NormStanding } from "../../core/persons/standing";
import { cellAt } from "../../core/tidy/column";
import { standingsIn } from "./derived";
import { comparableColumns, inDesignOrder } from "./comparable";
import { takesRightOnly } from "./counted-trials";
import { cellsBy, summedBy } from "./measured";
import type { Result } from "./result";
import { scoresIn } from "./scores";

export type PersonQuestion = { session: string };
/** A score of one session: what it is, and how it stands in each norm sample of it. */
export type PersonScore = {
  name: string;
  raw: number | null;
  norms: ({
    name: string;
    source: string;
    year: number | null;
    reliability: number | null;
    isUsed: boolean;
  } & NormStanding)[];
};
export type PersonAnswer = {
  /** Null where there is no such session among those that are shown. */
  about: {
    participant: number;
    sitting: number;
    group: string;
    startedAt: string;
    finishedAt: string | null;
    release: number;
  } | null;
  scores: PersonScore[];
  /** What was done in each condition of a column. */
  column: string;
  conditions: { level: string; trials: number; accuracy: number | null; time: number | null }[];
  rightOnly: boolean;
};

const nobody: PersonAnswer = { about: null, scores: [], column: "", conditions: [], rightOnly: false };

/** One session by itself, to be printed: its scores with norms, and what it did in each condition. */
export const person: Result<PersonQuestion, PersonAnswer> = {
  showsLeftOut: true,
  ask: (query) => ({ session: query.get("session") ?? "" }),
  answer: async ({ reader, tidy, rules }, { session }) => {
    const sitting = reader.sittings.find(({ row }) => row.id === session);
    const row = sitting && (await reader.inFull([sitting])).get(session);
    if (!sitting || !row) return nobody;
    const own = reader.only(({ row: { id } }) => id === session);
    return tidy(async (data) => {
      const mine = data.only(({ row: { id } }) => id === session);
      const scores: PersonScore[] = [];
      for (const { name } of scoresIn(reader)) {
        const cell = cellAt(await mine.column("sessions", name), 0);
        const norms: PersonScore["norms"] = [];
        for (const { norm, isUsed } of reader.persons.norms) {
          if (norm.score !== name) continue;
          const standing = (await standingsIn(mine, norm)).get(session);
          const { source, year, reliability } = norm;
          if (standing) norms.push({ name: norm.name, source, year, reliability, isUsed, ...standing });
        }
        scores.push({ name, raw: typeof cell === "number" ? cell : null, norms });
      }
      const column = comparableColumns(reader).find(({ isFactor }) => isFactor) ?? comparableColumns(reader)[0];
      const { cellAtRow, seen } = await cellsBy(mine, column ? [column] : []);
      const people = await summedBy(mine, own, { signal: null, column: null }, cellAtRow);
      const [times, shares] = (["mean", "accuracy"] as const).map((measure) => valuesOf(people, measure).get(session));
      const sums = people.get(session);
      return {
        about: {
          ...{ participant: sitting.facts.participant, sitting: sitting.facts.sitting },
          group: sitting.release.document.groups.find(({ id }) => id === sitting.facts.group)?.name ?? "",
          ...{ startedAt: row.started_at, finishedAt: row.finished_at, release: sitting.release.number },
        },
        scores: scores.filter(({ raw, norms }) => raw !== null || norms.length > 0),
        column: column?.name ?? "",
        conditions: inDesignOrder(column, seen[0] ?? new Set()).flatMap((level) => {
          const there = sums?.get(level);
          return there
            ? [{ level, trials: there.trials, accuracy: shares?.get(level) ?? null, time: times?.get(level) ?? null }]
            : [];
        }),
        rightOnly: takesRightOnly(rules),
      };
    });
  },
};

import { described, histogram, type Bin, type Described } from "../../core/stats/describe";
import type { NormStanding } from "../../core/persons/standing";
import { splitHalf } from "../../core/persons/trial-score";
import { cellAt } from "../../core/tidy/column";
import type { DataReader } from "../export/reader";
import type { KeptNorm, KeptScore } from "../persons";
import { halvesOf, standingsIn } from "./derived";
import { tableColumns } from "./table-columns";
import { availableLevels } from "./comparable";
import { numbersIn } from "./measured";
import type { Result } from "./result";

/** A score that is told of sessions: computed from their trials, or from what was answered. */
export type ScoreLine = { name: string; kept: KeptScore | null };

export type ScoresQuestion = {
  scores: ScoreLine[];
  score: string | null;
  page: number;
  order: "session" | "score" | "-score";
  /** Whether all scores are asked for, to make a norm sample of them. */
  own: boolean;
};
export type ScoreRow = { session: string; participant: number; sitting: number; raw: number | null } & NormStanding;
export type ScoresAnswer = {
  /** What scores can be made of. */
  levels: { column: string; levels: string[] }[];
  numbers: string[];
  /** Of the sessions that are kept; null where none has the score. */
  described: Described | null;
  bins: Bin[];
  /** Of scores over trials. */
  reliability: ReturnType<typeof splitHalf>;
  norms: (KeptNorm & {
    /** Columns it asks about that sessions do not have. */
    missing: string[];
    /** Of how many sessions it tells how their score stands. */
    reads: number;
  })[];
  rows: ScoreRow[];
  total: number;
  pages: number;
  /** The scores of all sessions kept, where they are asked for. */
  own: { session: string; value: number }[];
};

const rowsAPage = 100;

/** The scores there are: those over trials first. */
export function scoresIn(reader: DataReader): ScoreLine[] {
  const { scores } = reader.persons;
  const names = new Set(scores.map(({ name }) => name));
  const normed = new Set(
    reader.persons.norms.flatMap(({ norm: { score } }) =>
      ["percentile", "z", "t", "stanine", "from", "to"].map((standing) => `${score}_${standing}`),
    ),
  );
  return [
    ...scores.map((kept) => ({ name: kept.name, kept })),
    ...numbersIn(reader)
      .sessions.filter((name) => !names.has(name) && !normed.has(name))
      .map((name) => ({ name, kept: null })),
  ];
}

/** Scores of sessions: how they are distributed, how reliable they are, and how each stands against a norm sample. */
export const scores: Result<ScoresQuestion, ScoresAnswer> = {
  ask: (query, reader) => {
    const all = scoresIn(reader);
    const asked = all.find(({ name }) => name === query.get("score")) ?? all[0];
    const order = query.get("order");
    return {
      scores: all,
      score: asked?.name ?? null,
      page: Math.max(1, Math.floor(Number(query.get("sheet")) || 1)),
      order: order === "score" || order === "-score" ? order : "session",
      own: query.get("own") === "yes",
    };
  },
  answer: async ({ reader, tidy }, { scores: all, score: name, page, order, own }) => {
    const levels = availableLevels(reader);
    const { trials } = numbersIn(reader);
    const line = all.find((each) => each.name === name);
    if (!line) {
      const nothing = {
        described: null,
        bins: [],
        reliability: null,
        norms: [],
        rows: [],
        total: 0,
        pages: 1,
        own: [],
      };
      return { ...nothing, levels, numbers: trials };
    }
    return tidy(async (data) => {
      const column = await data.column("sessions", line.name);
      const raws: (number | null)[] = [];
      let at = 0;
      for (const sitting of data.sittings) {
        const cell = data.rowsOf("sessions", sitting) > 0 ? cellAt(column, at++) : null;
        raws.push(typeof cell === "number" ? cell : null);
      }
      const values = raws.flatMap((raw) => (raw === null ? [] : [raw]));
      const known = new Set(tableColumns("sessions", reader).map((each) => each.name));
      const norms = [];
      let standing: ReadonlyMap<string, NormStanding> = new Map();
      for (const kept of reader.persons.norms) {
        if (kept.norm.score !== line.name) continue;
        const told = await standingsIn(data, kept.norm);
        if (kept.isUsed) standing = told;
        const asks = new Set(kept.norm.bands.flatMap(({ where }) => where.map((each) => each.column)));
        norms.push({
          // The scores themselves are not needed to tell of it.
          ...{ ...kept, norm: withoutScores(kept.norm) },
          missing: [...asks].filter((each) => !known.has(each)),
          reads: [...told.values()].filter(({ z, percentile }) => z !== null || percentile !== null).length,
        });
      }
      const rows = data.sittings.map(({ row, facts }, index): ScoreRow => ({
        ...{ session: row.id, participant: facts.participant, sitting: facts.sitting, raw: raws[index] ?? null },
        ...(standing.get(row.id) ?? noStanding),
      }));
      if (order !== "session") {
        const sign = order === "-score" ? -1 : 1;
        rows.sort((a, b) =>
          a.raw === null || b.raw === null ? Number(a.raw === null) - Number(b.raw === null) : sign * (a.raw - b.raw),
        );
      }
      return {
        ...{ levels, numbers: trials, described: described(values), bins: histogram(values, 16), norms },
        reliability: line.kept ? splitHalf(await halvesOf(data, reader, line.kept.score)) : null,
        rows: rows.slice((page - 1) * rowsAPage, page * rowsAPage),
        total: rows.length,
        pages: Math.max(1, Math.ceil(rows.length / rowsAPage)),
        own: data.sittings.flatMap(({ row }, index) => {
          const value = raws[index] ?? null;
          return !own || value === null ? [] : [{ session: row.id, value }];
        }),
      };
    });
  },
};

const noStanding: NormStanding = {
  ...{ percentile: null, z: null, t: null, stanine: null, from: null, to: null },
  band: "",
};

/** A sample of the study’s own scores, told by how many they are. */
const withoutScores = (norm: KeptNorm["norm"]): KeptNorm["norm"] => ({
  ...norm,
  bands: norm.bands.map((band) =>
    band.values.kind === "own" ? { ...band, values: { kind: "own", scores: [] } } : band,
  ),
});

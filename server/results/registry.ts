import type { SessionState } from "../../core/export/tables/standing";
import { blocksInOrder } from "../../core/design/lookup";
import type { Store } from "../database/open";
import { DataReader, type Sitting } from "../export/reader";
import type { Study } from "../studies";
import { wavesOf } from "../waves";
import { answers } from "./answers";
import { conditions } from "./conditions";
import { course } from "./course";
import { distributions } from "./distributions";
import { paper } from "./paper";
import { person } from "./person";
import { persons } from "./persons";
import { records } from "./records";
import { exclusionsOf } from "../exclusions";
import { exportRecipes } from "./export";
import { withScores } from "./derived";
import { isJudged, leftOutOf } from "../tidy/left-out";
import { withTidy } from "../tidy/tidy-data";
import { ledgerOf, type Ledger } from "./ledger";
import type { Data, Result } from "./result";
import { scores } from "./scores";
import { thresholds } from "./thresholds";
import { timing } from "./timing";

/** The results there are, in the order of their tabs. Each has its view in `app/results/views/`, in a file of its name. */
export const results = {
  conditions,
  distributions,
  course,
  persons,
  person,
  scores,
  answers,
  thresholds,
  timing,
  records,
  export: exportRecipes,
  paper,
};

type Results = typeof results;
export type ResultName = keyof Results;
export const resultNames = Object.keys(results) as ResultName[];
export type QuestionOf<Name extends ResultName> = ReturnType<Results[Name]["ask"]>;
export type AnswerOf<Name extends ResultName> = Awaited<ReturnType<Results[Name]["answer"]>>;

export type Answered = {
  name: ResultName;
  question: unknown;
  answer: unknown;
  /** Sessions that are not rehearsals. */
  started: number;
  finished: number;
  /** Those that are no part of results unless they are asked for, and why. */
  apart: { withdrawn: number; notTaken: number };
  all: boolean;
  /** The waves of the study, and the one whose sessions these are; null for all of them. */
  waves: { id: string; name: string }[];
  wave: string | null;
  /** The releases on which the sessions that are shown were played, by number. */
  releases: number[];
  ledger: Ledger;
};

/**
 * The result the address asks for (`?tab=NAME`), answered; the first result if it names none. Sessions of participants who left or
 * were turned away are out unless `all=yes`, other waves where one is asked for (`wave=ID`), and whatever the exclusions in use
 * leave out; rehearsals are out unless a result takes them.
 */
export async function answered(store: Store, study: Study, query: URLSearchParams): Promise<Answered> {
  // A study without trials has nothing to compare: what was answered is its result.
  const usual = blocksInOrder(study.document).length > 0 ? "conditions" : "answers";
  const name = resultNames.find((each) => each === query.get("tab")) ?? usual;
  const result = results[name] as Result<unknown, unknown>;
  const all = query.get("all") === "yes";
  const waves = (await wavesOf(store.db, study.id)).map(({ id, plan }) => ({ id, name: plan.name }));
  const wave = waves.find(({ id }) => id === query.get("wave"))?.id ?? null;
  const pilots = name === "records" && query.get("pilots") === "yes";
  const whole = await DataReader.open(store, study, { pilots, wave });
  const exclusions = await exclusionsOf(store.db, study.id);
  const isTaken = (sitting: Sitting) => !sitting.facts.pilot && (all || isJudged(sitting));
  // All waves are brought up to date together: they have their columns in common.
  const everybody = wave === null && !pilots ? whole : await DataReader.open(store, study, { pilots: false });
  return withTidy(store, everybody, async (tidy) => {
    const isIn = new Set(whole.sittings.map(({ row }) => row.id));
    const own = tidy.only(({ row }) => isIn.has(row.id));
    const verdict = await leftOutOf(own, everybody.documents, exclusions.used.rules, isTaken);
    const isShown = (sitting: Sitting) => isTaken(sitting) && (result.showsLeftOut === true || verdict.keeps(sitting));
    const reader = whole.only((sitting) => (sitting.facts.pilot ? pilots : isShown(sitting)));
    const shown = withScores(own.with(verdict.columns), everybody).only(isShown);
    const data: Data = {
      store,
      everybody: { reader: everybody, rows: tidy },
      reader,
      tidy: (ask) => ask(shown),
      rules: exclusions.used.rules,
    };
    const real = whole.sittings.flatMap(({ facts }) => (facts.pilot ? [] : [facts]));
    const stood = (...states: SessionState[]) => real.filter(({ state }) => states.includes(state)).length;
    const question = result.ask(query, reader);
    return {
      name,
      question,
      answer: await result.answer(data, question),
      started: real.length,
      finished: stood("finished"),
      apart: { withdrawn: stood("withdrawn"), notTaken: stood("screened-out", "declined") },
      all,
      waves,
      wave,
      releases: [...new Set(reader.sittings.map(({ release }) => release.number))].sort((a, b) => a - b),
      ledger: ledgerOf(exclusions, verdict.counts, everybody.documents),
    };
  });
}

import type { Transaction } from "kysely";
import { tidyTables } from "../core/export/tidy-tables";
import type { PersonsChange } from "../core/persons/change";
import { norm as normShape, type Norm } from "../core/persons/norm";
import { trialScore as scoreShape, trialScoreInWords, type TrialScore } from "../core/persons/trial-score";
import { hasShape } from "../core/shape/shape";
import { measures } from "../core/stats/measures";
import type { StudyDocument } from "../core/design/document";
import { nameProblem } from "../core/values/names";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import { sinceNow } from "./database/since";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { frozenDocument } from "./frozen-documents";
import { noteDeed } from "./study-log";

/** A score over trials as a study keeps it. */
export type KeptScore = { id: string; name: string; score: TrialScore; version: number };
/** A norm sample as a study keeps it; one of a score's at most is used. */
export type KeptNorm = { id: string; norm: Norm; isUsed: boolean };
/** What is told of persons beside what sessions recorded. */
export type PersonsKept = { scores: KeptScore[]; norms: KeptNorm[] };

type Db = Store["db"] | Transaction<Tables>;
const [mostScores, mostNorms] = [50, 50];

/** The scores over trials and the norm samples of a study, oldest first. */
export async function personsKept(db: Db, studyId: string): Promise<PersonsKept> {
  const scores = await db
    .selectFrom("trial_score")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("since")
    .orderBy("id")
    .execute();
  const norms = await db
    .selectFrom("norm_sample")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("since")
    .orderBy("id")
    .execute();
  return {
    scores: scores.flatMap(({ id, name, score: text, version }) => {
      const score: unknown = JSON.parse(text);
      return hasShape(scoreShape, score) ? [{ id, name, score, version }] : [];
    }),
    norms: norms.flatMap(({ id, norm: text, is_used }) => {
      const norm: unknown = JSON.parse(text);
      return hasShape(normShape, norm) ? [{ id, norm, isUsed: is_used === 1 }] : [];
    }),
  };
}

export type ChangedPersons = { ok: true; id: string } | { ok: false; reason: string };
const refused = (reason: string): ChangedPersons => ({ ok: false, reason });

/** Changes a study's scores over trials or norm samples. No data are touched; what was done, and by whom, is written down. */
export async function changePersons(
  { db }: Store,
  study: { id: string; code: string; document: StudyDocument },
  by: string,
  change: PersonsChange,
): Promise<ChangedPersons> {
  const documents = await playedOf(db, study);
  return db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const { scores, norms } = await personsKept(trx, study.id);
    const note = (what: string) => noteDeed(trx, { code: study.code, by, what, kind: "scored" });
    const isFree = (name: string, but = "") =>
      nameProblem(name, [
        ...scores.flatMap((each) => (each.id === but ? [] : [each.name])),
        ...tidyTables.sessions.columns(documents).map((column) => column.name),
      ]);
    const score = "id" in change ? scores.find(({ id }) => id === change.id) : undefined;
    const norm = "id" in change ? norms.find(({ id }) => id === change.id) : undefined;
    switch (change.do) {
      case "add-score": {
        if (scores.length >= mostScores) return refused(`A study has at most ${mostScores} scores over trials.`);
        const problem = isFree(change.name);
        if (problem !== null) return refused(problem);
        const id = await insertScore(trx, study.id, change.name, change.score);
        await note(`The score “${change.name}” was defined: ${trialScoreInWords(change.score)}.`);
        return { ok: true, id };
      }
      case "save-score": {
        if (!score) return refused(gone("score"));
        if (change.version !== score.version)
          return refused("Somebody else changed this score meanwhile. Look at it again.");
        await trx
          .updateTable("trial_score")
          .set({ score: JSON.stringify(change.score), version: score.version + 1 })
          .where("id", "=", score.id)
          .execute();
        await note(`The score “${score.name}” is now: ${trialScoreInWords(change.score)}.`);
        return { ok: true, id: score.id };
      }
      case "rename-score": {
        if (!score) return refused(gone("score"));
        const problem = isFree(change.name, score.id);
        if (problem !== null) return refused(problem);
        await trx.updateTable("trial_score").set({ name: change.name }).where("id", "=", score.id).execute();
        // What is read against norms goes along with its name.
        for (const { id, norm: own } of norms)
          if (own.score === score.name)
            await trx
              .updateTable("norm_sample")
              .set({ norm: JSON.stringify({ ...own, score: change.name }) })
              .where("id", "=", id)
              .execute();
        await note(`The score “${score.name}” is called “${change.name}” now.`);
        return { ok: true, id: score.id };
      }
      case "remove-score":
        if (!score) return refused(gone("score"));
        await trx.deleteFrom("trial_score").where("id", "=", score.id).execute();
        for (const { id, norm: own } of norms)
          if (own.score === score.name) await trx.deleteFrom("norm_sample").where("id", "=", id).execute();
        await note(`The score “${score.name}” was removed, with its norm samples.`);
        return { ok: true, id: score.id };
      case "add-norm": {
        if (norms.length >= mostNorms) return refused(`A study has at most ${mostNorms} norm samples.`);
        if (norms.some((each) => each.norm.score === change.norm.score && each.norm.name === change.norm.name))
          return refused(`There is a norm sample “${change.norm.name}” of ${change.norm.score} already.`);
        const problem = normProblem(change.norm, scores);
        if (problem !== null) return refused(problem);
        await leave(trx, norms, change.norm.score);
        const id = await insertNorm(trx, study.id, change.norm, true);
        await note(`The norm sample “${change.norm.name}” of ${change.norm.score} was added and is in use.`);
        return { ok: true, id };
      }
      case "use-norm":
      case "leave-norm":
      case "remove-norm":
        if (!norm) return refused(gone("norm sample"));
        if (change.do === "remove-norm") await trx.deleteFrom("norm_sample").where("id", "=", norm.id).execute();
        else {
          await leave(trx, norms, norm.norm.score);
          if (change.do === "use-norm")
            await trx.updateTable("norm_sample").set({ is_used: 1 }).where("id", "=", norm.id).execute();
        }
        await note(`The norm sample “${norm.norm.name}” of ${norm.norm.score} ${normDeeds[change.do]}.`);
        return { ok: true, id: norm.id };
    }
  });
}

/**
 * Adds scores over trials and norm samples of another installation to those of a study: what is here stays, under its name. A sample
 * that is in use there is in use here where none of its score is. Gives how many were added.
 */
export async function addMovedPersons(
  trx: Transaction<Tables>,
  studyId: string,
  moved: { scores: readonly Pick<KeptScore, "name" | "score">[]; norms: readonly Omit<KeptNorm, "id">[] },
): Promise<number> {
  const here = await personsKept(trx, studyId);
  const scores = moved.scores
    .filter(({ name }) => !here.scores.some((each) => each.name === name))
    .slice(0, mostScores - here.scores.length);
  for (const { name, score } of scores) await insertScore(trx, studyId, name, score);
  const isHere = ({ score, name }: Norm) => here.norms.some(({ norm }) => norm.score === score && norm.name === name);
  const norms = moved.norms
    .filter(({ norm }) => !isHere(norm) && normProblem(norm, [...here.scores, ...moved.scores]) === null)
    .slice(0, mostNorms - here.norms.length);
  const used = new Set(here.norms.flatMap(({ norm, isUsed }) => (isUsed ? [norm.score] : [])));
  for (const { norm, isUsed } of norms) {
    await insertNorm(trx, studyId, norm, isUsed && !used.has(norm.score));
    if (isUsed) used.add(norm.score);
  }
  return scores.length + norms.length;
}

async function insertScore(
  trx: Transaction<Tables>,
  studyId: string,
  name: string,
  score: TrialScore,
): Promise<string> {
  const id = newId("score");
  const since = await sinceNow(trx, "trial_score", studyId);
  await trx
    .insertInto("trial_score")
    .values({ id, study_id: studyId, name, score: JSON.stringify(score), version: 1, since })
    .execute();
  return id;
}

async function insertNorm(trx: Transaction<Tables>, studyId: string, norm: Norm, isUsed: boolean): Promise<string> {
  const id = newId("norm");
  const since = await sinceNow(trx, "norm_sample", studyId);
  await trx
    .insertInto("norm_sample")
    .values({ id, study_id: studyId, norm: JSON.stringify(norm), is_used: isUsed ? 1 : 0, since })
    .execute();
  return id;
}

const normDeeds = { "use-norm": "is in use", "leave-norm": "is in use no longer", "remove-norm": "was removed" };
const gone = (what: string) => `This ${what} is gone. Load the page again.`;

/** No sample of a score is used any longer. */
async function leave(trx: Transaction<Tables>, norms: readonly KeptNorm[], score: string): Promise<void> {
  const ids = norms.flatMap(({ id, norm }) => (norm.score === score ? [id] : []));
  if (ids.length > 0) await trx.updateTable("norm_sample").set({ is_used: 0 }).where("id", "in", ids).execute();
}

/** Why scores should not be read against a norm; null where they can be. */
function normProblem(
  { score: name, bands }: Norm,
  scores: readonly Pick<KeptScore, "name" | "score">[],
): string | null {
  const score = scores.find((each) => each.name === name)?.score;
  const isRawTime = score !== undefined && score.contrast === null && measures[score.measure].isTime;
  const isNormal = bands.some(({ values }) => values.kind === "moments" && values.isNormal);
  return isRawTime && isNormal
    ? "Raw times are not normally distributed: a mean and a standard deviation give no percentiles of them. Take a table of percentiles, or leave them without."
    : null;
}

/** The documents on which a study was played, or its draft. */
async function playedOf(
  db: Store["db"],
  study: { id: string; document: StudyDocument },
): Promise<readonly StudyDocument[]> {
  const rows = await db
    .selectFrom("release")
    .select("id")
    .where("study_id", "=", study.id)
    .where("number", "is not", null)
    .execute();
  return [study.document, ...(await Promise.all(rows.map(({ id }) => frozenDocument(db, id))))];
}

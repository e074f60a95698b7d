import type { Store } from "./database/open";

/** So many labels a study has at most, of so many characters. */
const [mostLabels, mostCharacters] = [12, 40];

/** Sets the labels of a study; gives why they cannot be. */
export async function setLabels({ db }: Store, studyId: string, wanted: readonly string[]): Promise<string | null> {
  const labels = [...new Set(wanted.map((each) => each.trim().replaceAll(/\s+/g, " ")).filter((each) => each !== ""))];
  if (labels.length > mostLabels) return `A study has at most ${mostLabels} labels.`;
  const long = labels.find((each) => each.length > mostCharacters);
  if (long) return `A label has at most ${mostCharacters} characters: “${long.slice(0, mostCharacters)}…” has more.`;
  await db.transaction().execute(async (trx) => {
    await trx.deleteFrom("study_label").where("study_id", "=", studyId).execute();
    if (labels.length > 0)
      await trx
        .insertInto("study_label")
        .values(labels.map((label) => ({ study_id: studyId, label })))
        .execute();
  });
  return null;
}

import { allRules } from "../../design/all-rules";
import type { StudyDocument } from "../../design/document";
import { pointsKey } from "../../records/rule-bounds";
import type { SessionRecord } from "../../records/record";
import { dataColumn, yesOrNo, type Cell, type DataColumn } from "../../values/data-column";
import { distinctHeaders } from "../../values/header-names";
import type { Id, Value } from "../../values/ref";
import { sameAcross } from "./table-columns";

/** What is known where variables are told: the document, and what a record said they hold. */
type Held<Source> = {
  document: (source: Source) => StudyDocument | null;
  held: (source: Source) => SessionRecord["variables"];
  /** “after the trial”, “at the end of the session”. */
  when: string;
};

const asCell = (value: Value | null): Cell =>
  Array.isArray(value)
    ? value.map((each) => (typeof each === "boolean" ? yesOrNo(each) : String(each))).join("; ")
    : typeof value === "boolean"
      ? yesOrNo(value)
      : value;

const givesPoints = (document: StudyDocument): boolean =>
  allRules(document).some((rule) =>
    rule.do.some((action) => (action.do === "set" || action.do === "add") && "points" in action.what),
  );

/** The variables of studies, one column each, and the points where rules give any. `taken` are names that others have. */
export function variableColumns<Source>(
  documents: readonly StudyDocument[],
  taken: readonly string[],
  { document, held, when }: Held<Source>,
): DataColumn<Source>[] {
  const same = sameAcross(
    documents.map((owner) =>
      owner.variables.map((variable) => ({ id: variable.id, name: variable.name, owner, variable })),
    ),
  );
  const pointed = documents.some(givesPoints);
  const names = distinctHeaders([...same.map(({ name }) => name), ...(pointed ? ["points"] : [])], taken);
  const columns = same.map(({ name, of }, index) => {
    const variableIn = new Map(of.map(({ owner, variable }) => [owner, variable]));
    const type = of.every(({ variable }) => variable.type === "number") ? "number" : "text";
    return dataColumn<Source>(
      names[index] ?? name,
      type,
      `Variable of the study, ${when}` +
        (names[index] === name ? "" : `, there called “${name}”`) +
        (of.some(({ variable }) => variable.type === "list") ? "; entries of a list separated by semicolons" : ""),
      (source) => {
        const here = document(source);
        const variable = here && variableIn.get(here);
        return variable ? asCell(heldOf(held(source), variable.id, variable.start)) : null;
      },
      { values: of.every(({ variable }) => variable.type === "yes-no") ? "yes, no" : "" },
    );
  });
  const points = dataColumn<Source>(
    names.at(-1) ?? "points",
    "number",
    `Points that rules have given, ${when}`,
    (source) => {
      const here = document(source);
      return here && givesPoints(here) ? asCell(heldOf(held(source), pointsKey, 0)) : null;
    },
  );
  return pointed ? [...columns, points] : columns;
}

const heldOf = (held: SessionRecord["variables"], id: Id, start: Value | null): Value | null =>
  held && Object.hasOwn(held, id) ? (held[id] ?? null) : start;

import { blocksInOrder, partsInOrder } from "../design/lookup";
import { partLabel } from "../design/part-labels";
import { ownColumnNames } from "../export/tables/trials";
import { questionsInOrder } from "../design/questions";
import { sessionColumnNames } from "../export/tables/sessions";
import { headerName } from "../values/header-names";
import type { Check, Finding } from "./finding";

/** Names that the exported data cannot have as they are: of parts that bear one name, and of columns that are there already. */
export const exportNames: Check = (document) => {
  const parts = partsInOrder(document).flatMap((part): Finding[] => {
    const label = partLabel(document, part.id);
    return label === part.name
      ? []
      : [
          {
            level: "warning",
            where: `${part.kind} “${part.name}”`,
            message: `Another part has this name, so that data and results call this one “${label}”. Give it a name of its own.`,
            target: { part: part.id },
          },
        ];
  });
  const named = [
    ...blocksInOrder(document).flatMap((block) =>
      block.table.columns.map(({ id, name }) => ({
        name,
        where: `block “${block.name}”, column “${name}”`,
        target: { part: block.id, column: id },
      })),
    ),
    ...document.groupValues.map(({ name }) => ({ name, where: `group value “${name}”`, target: {} })),
  ];
  const taken = new Set(sessionColumnNames().map((name) => name.toLowerCase()));
  const asked = [
    ...questionsInOrder(document).map(({ page, question }) => ({
      name: question.name,
      where: `page “${page.name}”, question “${question.name}”`,
      target: { part: page.id, piece: question.id },
    })),
    ...document.scores.map(({ name }) => ({ name, where: `score “${name}”`, target: {} })),
  ].flatMap(({ name, where, target }): Finding[] =>
    taken.has(headerName(name).toLowerCase())
      ? [
          {
            level: "warning",
            where,
            message: `The sessions in the exported data have a column “${headerName(name)}” of their own, so that this one gets a number there. Give it another name.`,
            target,
          },
        ]
      : [],
  );
  parts.push(...asked);
  if (named.length === 0) return parts;
  const own = new Set(ownColumnNames(document).map((name) => name.toLowerCase()));
  const columns = named.flatMap(({ name, where, target }): Finding[] => {
    const header = headerName(name);
    if (own.has(header.toLowerCase()))
      return [
        {
          level: "warning",
          where,
          message: `The exported data have a column “${header}” of their own, so that this one gets a number there. Give it another name.`,
          target,
        },
      ];
    return header === name
      ? []
      : [
          {
            level: "note",
            where,
            message: `The exported data call it “${header}”, since programs that read them do not take “${name}” as a name.`,
            target,
          },
        ];
  });
  return [...parts, ...columns];
};

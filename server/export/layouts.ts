import { codebookMarkdown, type DescribedTable } from "../../core/export/codebook";
import { csv } from "../../core/export/formats/csv";
import type { WrittenColumn } from "../../core/export/formats/format";
import { writtenAs } from "../../core/export/formats/in-text";
import {
  bidsColumns,
  bidsDescription,
  bidsFile,
  bidsSubject,
  label,
  onsetColumns,
  psychDsDescription,
  psychDsFile,
  type BidsPlace,
  type LayoutName,
} from "../../core/export/layouts/layouts";
import { designPicture } from "../../core/describe/design-picture";
import { methodMarkdown } from "../../core/exclusions/method-markdown";
import { questionsInOrder } from "../../core/design/questions";
import type { TidyTableName } from "../../core/export/tidy-tables";
import type { Cell } from "../../core/values/data-column";
import type { Store } from "../database/open";
import { frozenText } from "../frozen-documents";
import type { Study } from "../studies";
import { tableColumns } from "../results/table-columns";
import { DataReader, type Sitting } from "./reader";
import { flatRows, type FlatRows } from "./study-data";
import { rowsOfBatch, writtenRows, type Batch } from "./written";
import { zipped, type FileInZip } from "./zip";

export type LayoutChoice = { layout: LayoutName; wave: string | null; design: boolean };

/** All data of a study in a layout that a community has agreed on, as one zip. Rehearsals are not in it. */
export async function* layoutZip(store: Store, study: Study, choice: LayoutChoice): AsyncGenerator<Uint8Array> {
  const which = { pilots: false, wave: choice.wave };
  const reader = await DataReader.open(store, study, which);
  const rows = await flatRows(store, study, reader, which);
  const all: DescribedTable[] = [
    { name: "trials", one: "a trial", columns: tableColumns("trials", reader) },
    { name: "sessions", one: "a session", columns: tableColumns("sessions", reader) },
    { name: "events", one: "for everything that happened in a session", columns: tableColumns("events", reader) },
  ];
  if (reader.documents.some((document) => questionsInOrder(document).length > 0))
    all.splice(2, 0, {
      name: "answers",
      one: "a question that a participant could be asked",
      columns: tableColumns("answers", reader),
    });
  const made = { store, study, reader, rows, tables: all };
  try {
    yield* zipped(choice.layout === "bids" ? bids(made) : psychDs(made, choice.design));
  } finally {
    await rows.done();
  }
}

type Made = { store: Store; study: Study; reader: DataReader; rows: FlatRows; tables: DescribedTable[] };
const inJson = (described: object) => `${JSON.stringify(described, null, 2)}\n`;

async function* psychDs({ store, study, reader, rows, tables }: Made, design: boolean): AsyncGenerator<FileInZip> {
  const about = { title: study.document.title, code: study.code };
  yield { name: "dataset_description.json", pieces: [inJson(psychDsDescription(about, tables))] };
  yield { name: "README.md", pieces: [`# ${about.title}\n\nA data set in the Psych-DS layout, made by Lapwing.\n`] };
  yield { name: "documentation/codebook.md", pieces: [codebookMarkdown(tables, about.title, about.code, csv)] };
  if (rows.exclusions) {
    const document = design ? (reader.documents[0] ?? null) : null;
    yield { name: "documentation/method.md", pieces: [methodMarkdown({ ...about, document }, rows.exclusions)] };
  }
  if (design)
    for (const { id, number, document } of reader.releases)
      if (id !== "") {
        yield { name: `materials/release-${number}.lapwing.json`, pieces: [await frozenText(store.db, id)] };
        yield { name: `materials/release-${number}.svg`, pieces: [designPicture(document)] };
      }
  for (const { name, columns } of tables)
    yield {
      name: psychDsFile(study.code, name),
      pieces: writtenRows(csv, columns, () => rows.of(name as TidyTableName)),
    };
}

/** What stands for a missing value in BIDS. */
const text = writtenAs("tsv", { decimal: ".", missing: "n/a" });

async function* bids({ study, reader, rows, tables }: Made): AsyncGenerator<FileInZip> {
  const about = { title: study.document.title, code: study.code };
  const stem = `task-${label(study.code)}`;
  const columnsOf = (name: string) => tables.find((table) => table.name === name)?.columns ?? [];
  const [trials, sessions] = [columnsOf("trials"), columnsOf("sessions")];
  const told = columnsOf("events").filter(({ name }) => name !== "at_ms");
  const events = [...onsetColumns, ...told];
  yield { name: "dataset_description.json", pieces: [inJson(bidsDescription(about))] };
  yield {
    name: "README",
    pieces: [
      `${about.title}\n\nBehavioural data in the BIDS layout, made by Lapwing: trials (_beh.tsv) and events (_events.tsv) of each session. Sessions and participants are described in participants.tsv and phenotype/.\n`,
    ],
  };
  const someRepeat = reader.sittings.some(({ facts }) => facts.sitting > 1);
  const repeats = new Map<string, number>();
  const placed = reader.sittings.map((sitting): { sitting: Sitting; place: BidsPlace } => {
    const { participant, sitting: number, session } = sitting.facts;
    const key = participant > 0 ? `${participant} ${number}` : session;
    const repeat = repeats.get(key) ?? 0;
    repeats.set(key, repeat + 1);
    return { sitting, place: { participant, session, sitting: someRepeat ? number : null, repeat } };
  });
  const subjects = new Map<string, { group: string; count: number }>();
  for (const { sitting, place } of placed) {
    const before = subjects.get(bidsSubject(place));
    const group = sitting.release.document.groups.find(({ id }) => id === sitting.facts.group)?.name ?? "";
    subjects.set(bidsSubject(place), { group: before?.group ?? group, count: (before?.count ?? 0) + 1 });
  }
  const participants: WrittenColumn[] = [
    { name: "participant_id", meaning: "The participant", unit: "", type: "text", values: "" },
    { name: "group", meaning: "Name of the group", unit: "", type: "text", values: "" },
    { name: "sessions", meaning: "How many sessions there are of them", unit: "", type: "whole number", values: "" },
  ];
  yield {
    name: "participants.tsv",
    pieces: writtenRows(text, participants, () =>
      batch([...subjects].map(([id, { group, count }]) => [id, group === "" ? null : group, count])),
    ),
  };
  yield { name: "participants.json", pieces: [inJson(bidsColumns(participants))] };
  yield { name: `${stem}_beh.json`, pieces: [inJson({ TaskName: about.title, ...bidsColumns(trials) })] };
  yield { name: `${stem}_events.json`, pieces: [inJson({ TaskName: about.title, ...bidsColumns(events) })] };
  const whose = { name: "participant_id", meaning: "The participant", unit: "", type: "text" as const, values: "" };
  for (const name of ["sessions", "answers"] as const) {
    const columns = name === "sessions" ? sessions : columnsOf(name);
    if (columns.length === 0) continue;
    yield { name: `phenotype/${name}.json`, pieces: [inJson(bidsColumns([whose, ...columns]))] };
    yield {
      name: `phenotype/${name}.tsv`,
      pieces: writtenRows(text, [whose, ...columns], async function* () {
        for (const { sitting, place } of placed)
          for await (const some of rows.ofSession(name, sitting))
            yield rowsOfBatch(some).map((cells) => [bidsSubject(place), ...cells]);
      }),
    };
  }
  const at = columnsOf("events").findIndex(({ name }) => name === "at_ms");
  for (const { sitting, place } of placed) {
    yield {
      name: bidsFile(study.code, place, "beh"),
      pieces: writtenRows(text, trials, () => rows.ofSession("trials", sitting)),
    };
    yield {
      name: bidsFile(study.code, place, "events"),
      pieces: writtenRows(text, events, async function* () {
        for await (const some of rows.ofSession("events", sitting))
          yield rowsOfBatch(some).map((cells) => {
            const ms = cells[at];
            return [typeof ms === "number" ? ms / 1000 : null, null, ...cells.filter((_, index) => index !== at)];
          });
      }),
    };
  }
}

async function* batch(rows: Cell[][]): AsyncGenerator<Batch> {
  yield await Promise.resolve(rows);
}

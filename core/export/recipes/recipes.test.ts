import { describe, expect, it } from "vitest";
import { hasShape } from "../../shape/shape";
import { dataColumn } from "../../values/data-column";
import { exportFormats, formatNames } from "../formats/registry";
import { writtenAs } from "../formats/in-text";
import { columnInWords, recipeInShort } from "./in-words";
import { columnNameProblem, misfits, nameProblems, type Available } from "./problems";
import { recipe as recipeShape, rowKindNames, type MeasureColumn, type Recipe, type RecipeColumn } from "./recipe";
import { inPython, inR } from "./scripts";
import { columnName, freshRecipe, measureColumns, withRows } from "./templates";

const known = {
  columns: {
    trial: ["participant", "trial", "rt_ms"].map((name) => ({ name })),
    answer: [{ name: "participant" }],
    event: [{ name: "participant" }],
    session: ["participant", "group_name", "strain"].map((name) => ({ name })),
  },
  levels: [{ column: "neighbours", levels: ["with", "against", "none"] }],
};
const available: Available = {
  row: new Set(["participant", "trial", "rt_ms"]),
  session: new Set(["participant", "group_name", "strain"]),
  levels: new Map([["neighbours", new Set(["with", "against", "none"])]]),
  numbers: new Set(["strain"]),
  waves: new Set(["Spring"]),
  exclusions: new Set(["Strict"]),
};
const mean = (name: string, level?: string): MeasureColumn => ({
  ...{ is: "measure", measure: "mean", numbers: null, signal: null, name },
  where: level === undefined ? [] : [{ column: "neighbours", level }],
});
const difference = (name: string, of: string, less: string): RecipeColumn => ({ is: "difference", of, less, name });
const ofPersons = (...columns: RecipeColumn[]): Recipe => ({ ...freshRecipe("person", known), columns });

describe("recipes", () => {
  it("begin with what rows of each kind have, so that a file can be made at once", () => {
    for (const rows of rowKindNames) {
      const fresh = freshRecipe(rows, known);
      expect(hasShape(recipeShape, fresh)).toBe(true);
      expect(nameProblems(fresh)).toEqual([]);
      expect(misfits(fresh, available)).toEqual([]);
    }
    expect(freshRecipe("person", known).columns.map(({ name }) => name)).toEqual([
      ...["participant", "group_name", "rt_with", "rt_against", "rt_none"],
      ...["accuracy_with", "accuracy_against", "accuracy_none"],
    ]);
    expect(freshRecipe("person-condition", known)).toMatchObject({ by: ["neighbours"] });
    // What could tell who somebody is is not in it by itself.
    const withText = {
      ...known,
      columns: { ...known.columns, session: [...known.columns.session, { name: "remarks", isOwnWords: true }] },
    };
    expect(freshRecipe("session", withText).columns.map(({ name }) => name)).toEqual([
      ...["participant", "group_name", "strain"],
    ]);
    const bare = { columns: { trial: [], answer: [], event: [], session: [] }, levels: [] };
    expect(freshRecipe("person-condition", bare).columns.map(({ name }) => name)).toEqual(["rt", "accuracy"]);
  });
  it("say what names no program would take, and which stand twice", () => {
    for (const name of ["rt_with", "größe", "Ålder2", "ποσο"]) expect(columnNameProblem(name)).toBeNull();
    for (const name of ["", "2nd", "rt ms", "a-b", "_x", "with", "TO", "ä".repeat(33)])
      expect(columnNameProblem(name)).not.toBeNull();
    expect(nameProblems(ofPersons(mean("rt"), mean("RT")))).toEqual([
      "More than one column is called “rt”.",
      "More than one column is called “RT”.",
    ]);
    expect(nameProblems(ofPersons())).toEqual(["The recipe has no columns yet."]);
  });
  it("say by name what another study does not have, also where a difference needs it", () => {
    const asked = ofPersons(
      mean("rt_with", "with"),
      mean("rt_behind", "behind"),
      { ...mean("tide"), where: [{ column: "tide", level: "low" }] },
      { ...mean("age"), measure: "column", numbers: "age" },
      { is: "column", of: "session", column: "mood", name: "mood" },
      difference("cost", "rt_behind", "rt_with"),
      difference("nothing", "rt_with", "rt_gone"),
    );
    expect(misfits({ ...asked, wave: "Autumn" }, available)).toEqual([
      "There is no wave “Autumn” here, so the file has no rows.",
      "“rt_behind” is not in the file: “neighbours” has no level “behind” in this study.",
      "“tide” is not in the file: this study has no column “tide”.",
      "“age” is not in the file: this study has no numbers “age”.",
      "“mood” is not in the file: this study has no column “mood”.",
      "“cost” is not in the file: “neighbours” has no level “behind” in this study.",
      "“nothing” is not in the file: it needs the column of numbers “rt_gone”.",
    ]);
    const chosen = { ...freshRecipe("trial", known), where: [{ column: "mood", is: "is" as const, value: "good" }] };
    expect(misfits(chosen, available)).toEqual([
      "The condition on “mood” is passed over: this study has no such column.",
    ]);
    expect(misfits({ ...ofPersons(mean("rt")), rows: "trial" }, available)).toEqual([
      "“rt” is not in the file: numbers computed from trials need rows of sessions or persons.",
    ]);
    const byTide = { ...freshRecipe("person-condition", known), by: ["tide"] };
    expect(misfits(byTide, available)[0]).toBe(
      "Conditions cannot be told apart by “tide”: this study has no such column.",
    );
  });
  it("are told in a line, and so is each column", () => {
    expect(recipeInShort(freshRecipe("person", known))).toBe("A row for each person, 8 columns, sessions kept, .csv");
    expect(columnInWords(mean("rt", "with"))).toBe("mean reaction time where neighbours is with");
    expect(columnInWords(difference("cost", "a", "b"))).toBe("a − b");
    expect(columnName(["Right", "Sehr gut!", "2"], [])).toBe("right_sehr_gut_2");
    const twice = measureColumns({ measure: "mean", numbers: null, signal: null }, null, [mean("rt")]);
    expect(twice.map(({ name }) => name)).toEqual(["rt_2"]);
  });
  it("keep the columns that other rows have, too, and begin anew where none is left", () => {
    const person = withRows(freshRecipe("trial", known), "person", known);
    expect(person.columns).toEqual(freshRecipe("person", known).columns);
    const long = withRows({ ...person, missing: "NA" }, "person-condition", known);
    expect([long.by, long.missing, long.columns[0]?.name]).toEqual([["neighbours"], "NA", "neighbours"]);
    expect(long.columns.map(({ name }) => name)).toContain("rt_against");
    const trial = withRows(long, "trial", known);
    expect(trial.columns).toEqual([
      { is: "column", of: "row", column: "participant", name: "participant" },
      { is: "column", of: "session", column: "group_name", name: "group_name" },
    ]);
    expect(misfits(trial, available)).toEqual([]);
  });
  it("refuse what is no recipe", () => {
    const fresh = freshRecipe("trial", known);
    for (const wrong of [
      { rows: "dog" },
      { format: "exe" },
      { missing: 'a"b' },
      { decimal: ";" },
      { by: ["a", "b", "c", "d"] },
    ])
      expect(hasShape(recipeShape, { ...fresh, ...wrong })).toBe(false);
  });
  it("give lines for scripts that name where the key is, and never hold it", () => {
    for (const format of formatNames)
      for (const lines of [inR, inPython]) {
        const text = lines({
          origin: "https://lab.example",
          code: "amber-quay",
          address: "means",
          recipe: { ...freshRecipe("trial", known), format },
        });
        expect(text).toContain(
          `https://lab.example/studies/amber-quay/recipes/means.${exportFormats[format].extension}`,
        );
        expect(text).toContain("LAPWING_KEY");
      }
  });
});

describe("formats of plain text", () => {
  const columns = [
    dataColumn<never>("name", "text", "", () => null),
    dataColumn<never>("size", "number", "", () => null),
  ];
  const written = (...[name, how]: Parameters<typeof writtenAs>) => {
    const writer = writtenAs(name, how).open(columns);
    const pieces = [
      writer.start(),
      writer.rows([
        ["a;b", 1.5],
        [null, -2],
        ["c", null],
      ]),
      writer.end(),
    ];
    return pieces.join("");
  };
  it("have another decimal sign, and semicolons with it", () =>
    expect(written("csv", { decimal: ",", missing: "" })).toBe('name;size\r\n"a;b";1,5\r\n;-2\r\nc;\r\n'));
  it("have a sign for missing values", () => {
    expect(written("csv", { decimal: ".", missing: "NA" })).toBe("name,size\r\na;b,1.5\r\nNA,-2\r\nc,NA\r\n");
    expect(written("tsv", { decimal: ",", missing: "." })).toBe("name\tsize\na;b\t1,5\n.\t-2\nc\t.\n");
  });
  it("are the same as ever without, and formats with types of their own stay as they are", () => {
    expect(writtenAs("csv", { decimal: ".", missing: "" })).toBe(exportFormats.csv);
    expect(writtenAs("parquet", { decimal: ",", missing: "NA" })).toBe(exportFormats.parquet);
  });
});

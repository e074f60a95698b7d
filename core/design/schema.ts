import * as yup from "yup";
import { mediaTypes } from "./media-types";
import { builtInNames, nameProblem } from "./names";
import type { AnswerDevice, ItemKind, LimitKind } from "./types";
import { currentVersion } from "./version";
import { isWordingName } from "../wording/names";

const colorShape = /^(#[0-9a-f]{3}|#[0-9a-f]{6}|#[0-9a-f]{8}|transparent)$/i;
const idShape = /^[A-Za-z0-9][A-Za-z0-9-]{0,39}$/;

const id = () => yup.string().required("is missing").matches(idShape, "must be an id of letters, digits and hyphens");
const title = (most = 120) =>
  yup.string().required("is missing: type a name").max(most, `must have at most ${most} characters`);
const anyText = (most: number) => yup.string().defined("is missing").max(most, `must have at most ${most} characters`);
const yesNo = () => yup.boolean().required("is missing: write true or false").typeError("must be true or false");
const finite = () => yup.number().required("is missing: write a number").typeError("must be a number");
const whole = (least: number) => finite().integer("must be a whole number").min(least, `must be ${least} or more`);
const oneOf = (words: readonly string[]) =>
  yup
    .string()
    .required("is missing")
    .oneOf(words, `must be one of ${words.join(", ")}`);

const closed = <T extends yup.ObjectShape>(fields: T) =>
  yup
    .object(fields)
    .required("is missing")
    .noUnknown(({ unknown }: { unknown: string }) => `has a field Lapwing does not know: ${unknown}. Remove it`)
    .typeError("must be an object with fields");

const list = (entry: yup.ISchema<unknown>, least = 0, most = 100_000) =>
  yup
    .array(entry as yup.Schema)
    .required("is missing: write a list")
    .typeError("must be a list")
    .min(least, `must have at least ${least} ${least === 1 ? "entry" : "entries"}`)
    .max(most, `must have at most ${most} entries`);

/** An object whose keys are ids and whose values all follow one schema. */
const record = (value: () => yup.ISchema<unknown>) =>
  yup.lazy((input: unknown) => {
    if (typeof input !== "object" || input === null || Array.isArray(input))
      return yup.mixed().test("record", "must be an object keyed by id", () => false);
    return yup.object(Object.fromEntries(Object.keys(input).map((key) => [key, value() as yup.Schema])));
  });

/** Chooses a schema by the value of one field. */
const byField = (field: string, kinds: Record<string, () => yup.Schema>) =>
  yup.lazy((input: unknown) => {
    const kind = typeof input === "object" && input !== null ? (input as Record<string, unknown>)[field] : undefined;
    const schema = typeof kind === "string" && Object.hasOwn(kinds, kind) ? kinds[kind] : undefined;
    return (
      schema?.() ??
      yup.mixed().test("kind", `must have a ${field} that is one of ${Object.keys(kinds).join(", ")}`, () => false)
    );
  });

const scalarProblem = (value: unknown): string | null => {
  if (typeof value === "string") return value.length <= 10_000 ? null : "must have at most 10000 characters";
  if (typeof value === "number") return Number.isFinite(value) ? null : "must be a number";
  return typeof value === "boolean" ? null : "must be a text, a number, or true or false";
};
const scalar = () =>
  yup
    .mixed()
    .required("is missing")
    .test("scalar", (value, context) => {
      const problem = scalarProblem(value);
      return problem === null || context.createError({ message: problem });
    });

const refProblem = (ref: unknown): string | null => {
  if (typeof ref !== "object" || ref === null)
    return "must say where its value comes from: a column, group value, variable or built-in name";
  const entries = Object.entries(ref);
  const [key, value] = entries[0] ?? [];
  if (
    entries.length !== 1 ||
    !key ||
    !["column", "groupValue", "variable", "builtIn"].includes(key) ||
    typeof value !== "string"
  )
    return "must name one of column, groupValue, variable, builtIn";
  if (key === "builtIn" && !Object.hasOwn(builtInNames, value))
    return `uses the built-in name “${value}”, which does not exist`;
  return null;
};
const ref = () =>
  yup
    .mixed()
    .required("is missing")
    .test("ref", (value, context) => {
      const problem = refProblem(value);
      return problem === null || context.createError({ message: problem });
    });

/** A constant of the given schema, or a binding. */
const bindable = (constant: yup.Schema) =>
  yup.lazy((input: unknown) => (typeof input === "object" && input !== null ? closed({ from: ref() }) : constant));

const number = bindable(finite());
const positive = bindable(finite().moreThan(0, "must be greater than 0"));
const notNegative = bindable(finite().min(0, "must be 0 or more"));
const duration = bindable(finite().min(0, "must be 0 or more").max(3_600_000, "must be at most an hour"));
const color = bindable(yup.string().required("is missing").matches(colorShape, "must be a colour such as #17211e"));
const text = bindable(anyText(10_000));

const runs = list(
  yup.lazy((input: unknown) => {
    const marks = yup.array(oneOf(["bold", "italic"])).optional();
    return typeof input === "object" && input !== null && "ref" in input
      ? closed({ ref: ref(), marks })
      : closed({ text: anyText(20_000), marks });
  }),
);
const formattedText = list(closed({ as: oneOf(["paragraph", "heading", "bullet", "numbered"]), runs }), 0, 2_000);

const operand = yup.lazy((input: unknown) =>
  input === null ? yup.mixed().nullable() : typeof input === "object" ? closed({ from: ref() }) : scalar(),
);
const condition: yup.Lazy<unknown> = yup.lazy((input: unknown) => {
  const keys = typeof input === "object" && input !== null ? Object.keys(input) : [];
  if (keys.includes("all")) return closed({ all: list(condition) });
  if (keys.includes("any")) return closed({ any: list(condition) });
  if (keys.includes("not")) return closed({ not: condition as unknown as yup.Schema });
  return closed({ left: operand, is: oneOf(["=", "≠", "<", "≤", ">", "≥"]), right: operand });
});
const optionalCondition = yup.lazy((input: unknown) =>
  input === undefined ? yup.mixed().optional() : condition.resolve({ value: input }),
);

const valueName = () =>
  yup
    .string()
    .required("is missing: type a name")
    .test("name", (value, context) => {
      const problem = nameProblem(value, []);
      return problem === null || context.createError({ message: `is “${value}”. ${problem}` });
    });

const optional = (schema: yup.Schema | yup.Lazy<unknown>) =>
  yup.lazy((input: unknown) =>
    input === undefined ? yup.mixed().optional() : (schema.resolve({ value: input }) as yup.Schema),
  );
const nullable = (schema: yup.Schema | yup.Lazy<unknown>) =>
  yup.lazy((input: unknown) =>
    input === null ? yup.mixed().nullable() : (schema.resolve({ value: input }) as yup.Schema),
  );
const itemBase = (kind: string) => ({
  kind: oneOf([kind]),
  id: id(),
  name: title(),
  when: optionalCondition,
  begins: optional(duration),
  ends: optional(duration),
});
const placed = (kind: string) => ({
  ...itemBase(kind),
  at: closed({ x: number, y: number }),
  turned: number,
  locked: yesNo(),
});
const sized = (kind: string) => ({ ...placed(kind), size: closed({ w: positive, h: positive }) });
const percent = bindable(finite().min(0, "must be 0 or more").max(100, "must be at most 100"));
const time = () => finite().min(0, "must be 0 or more").max(3_600_000, "must be at most an hour");
const fit = () => oneOf(["inside", "cover", "stretch", "stretch-across", "stretch-upright"]);
const forms = ["rectangle", "ellipse", "line", "arrow", "cross", "polygon", "star", "ring"];
const look = () => closed({ form: oneOf([...forms, "picture", "text"]), color, picture: text, text, turned: number });
const excerpt = { startMs: time(), stopMs: nullable(time()) };
const itemKinds: Record<ItemKind, () => yup.Schema> = {
  text: () =>
    closed({
      ...placed("text"),
      text: formattedText,
      font: oneOf(["Atkinson Hyperlegible Next", "Newsreader", "JetBrains Mono", "sans-serif", "serif", "monospace"]),
      fontSize: positive,
      color,
      width: positive,
      weight: oneOf(["regular", "bold"]),
      align: oneOf(["left", "center", "right"]),
      lineSpacing: finite().min(0.5, "must be 0.5 or more").max(5, "must be at most 5"),
      direction: oneOf(["auto", "left-to-right", "right-to-left"]),
    }),
  image: () =>
    closed({ ...sized("image"), picture: text, fit: fit(), faces: text, upsideDown: yesNo(), opacity: percent }),
  shape: () =>
    closed({
      ...sized("shape"),
      form: oneOf(forms),
      fill: color,
      line: color,
      lineWidth: notNegative,
      corners: number,
      gap: number,
      opacity: percent,
    }),
  grating: () =>
    closed({
      ...sized("grating"),
      wave: oneOf(["sine", "square"]),
      envelope: oneOf(["gaussian", "circle", "none"]),
      frequency: positive,
      phase: number,
      contrast: percent,
      mean: percent,
      drift: number,
    }),
  array: () =>
    closed({
      ...sized("array"),
      arrangement: oneOf(["ring", "grid", "scattered"]),
      count: bindable(whole(0).max(500, "must be at most 500")),
      element: positive,
      across: whole(1).max(50, "must be at most 50"),
      upright: whole(1).max(50, "must be at most 50"),
      distance: finite().min(0, "must be 0 or more"),
      present: bindable(yesNo()),
      targetIn: oneOf(["anywhere", "left", "right", "upper", "lower"]),
      target: look(),
      others: look(),
    }),
  sound: () =>
    closed({
      ...itemBase("sound"),
      source: byField("from", {
        file: () => closed({ from: oneOf(["file"]), file: text, ...excerpt }),
        tone: () => closed({ from: oneOf(["tone"]), hertz: positive, ms: duration, rampMs: time() }),
        noise: () => closed({ from: oneOf(["noise"]), ms: duration, rampMs: time() }),
      }),
      volume: percent,
      balance: bindable(finite().min(-100, "must be −100 or more").max(100, "must be at most 100")),
      loop: yesNo(),
    }),
  video: () =>
    closed({
      ...sized("video"),
      file: text,
      ...excerpt,
      fit: fit(),
      volume: percent,
      atEnd: oneOf(["hold", "vanish", "loop"]),
    }),
  web: () =>
    closed({
      ...sized("web"),
      page: byField("from", {
        address: () => closed({ from: oneOf(["address"]), address: text }),
        file: () => closed({ from: oneOf(["file"]), file: text }),
      }),
    }),
  button: () => closed({ ...sized("button"), label: text, fontSize: positive, fill: color, color }),
  entry: () =>
    closed({
      ...sized("entry"),
      lines: oneOf(["one", "several"]),
      takes: oneOf(["text", "number"]),
      longest: whole(1).max(10_000, "must be at most 10000"),
      hint: anyText(200),
      fontSize: positive,
    }),
  slider: () =>
    closed({
      ...sized("slider"),
      from: finite(),
      to: finite().when("from", ([from], schema) =>
        typeof from === "number" ? schema.moreThan(from, "must be greater than where it starts from") : schema,
      ),
      step: finite().moreThan(0, "must be greater than 0"),
      leftLabel: text,
      rightLabel: text,
      start: nullable(finite()),
      fontSize: positive,
    }),
};

const lasts = byField("kind", {
  ms: () => closed({ kind: oneOf(["ms"]), ms: duration }),
  "random-ms": () =>
    closed({
      kind: oneOf(["random-ms"]),
      from: finite().min(0, "must be 0 or more"),
      step: finite().moreThan(0, "must be greater than 0"),
      to: finite()
        .min(0, "must be 0 or more")
        .when("from", ([from], schema) =>
          typeof from === "number" ? schema.min(from, "must not be smaller than where it starts from") : schema,
        ),
    }),
  "until-answer": () => closed({ kind: oneOf(["until-answer"]), atMostMs: optional(duration) }),
  "media-end": () => closed({ kind: oneOf(["media-end"]) }),
});

const notes = yup.string().optional().max(20_000, "must have at most 20000 characters");
const scene = closed({
  id: id(),
  name: title(60),
  lasts,
  items: list(byField("kind", itemKinds), 0, 500),
  when: optionalCondition,
  marker: yup.string().optional(),
  notes,
});

const value = nullable(bindable(scalar()));
const target = yup.lazy((input: unknown) =>
  typeof input === "object" && input !== null && "region" in input
    ? closed({
        region: title(60),
        at: closed({ x: finite(), y: finite() }),
        size: closed({ w: finite().moreThan(0), h: finite().moreThan(0) }),
        value,
      })
    : closed({ item: id(), value }),
);
const confirmed = (device: string) => closed({ device: oneOf([device]), item: id(), confirm: nullable(id()) });
const devices: Record<AnswerDevice["device"], () => yup.Schema> = {
  keys: () =>
    closed({
      device: oneOf(["keys"]),
      keys: list(bindable(yup.string().required("is missing")), 0, 100),
      by: oneOf(["letter", "place"]),
      act: oneOf(["press", "release", "hold"]),
      holdMs: time(),
    }),
  pointer: () => closed({ device: oneOf(["pointer"]), targets: list(target, 0, 200) }),
  typed: () => confirmed("typed"),
  slider: () => confirmed("slider"),
  web: () => closed({ device: oneOf(["web"]), item: id() }),
};
const answer = closed({
  id: id(),
  name: title(40),
  opensWith: id(),
  closesWith: id(),
  countsFrom: optional(id()),
  by: list(byField("device", devices), 0, 20),
  right: yup.lazy((input: unknown) =>
    input === undefined ? yup.mixed().optional() : typeof input === "object" ? closed({ from: ref() }) : scalar(),
  ),
  match: oneOf(["exact", "ignore-case", "number", "one-of"]),
  tolerance: yup.number().optional().min(0, "must be 0 or more"),
  counts: oneOf(["first", "last"]),
  onAnswer: oneOf(["move-on", "stay"]),
  onEarly: oneOf(["go-on", "end-window"]),
});

const cellsTest = (cells: unknown, context: yup.TestContext) => {
  if (typeof cells !== "object" || cells === null || Array.isArray(cells))
    return context.createError({ message: "must be an object keyed by column" });
  for (const [column, value] of Object.entries(cells)) {
    const problem = value === null ? null : scalarProblem(value);
    if (problem) return context.createError({ path: `${context.path}.${column}`, message: problem });
  }
  return true;
};
const row = closed({
  id: id(),
  copies: whole(0).max(10_000, "must be at most 10000"),
  cells: yup.mixed().required("is missing").test("cells", cellsTest),
  note: notes,
});

const caseOf = closed({
  is: yup.lazy((input: unknown) =>
    typeof input === "string"
      ? oneOf(["same", "different"])
      : list(
          yup.lazy((each: unknown) => (each === null ? yup.mixed().nullable() : scalar())),
          1,
          6,
        ),
  ),
  gives: bindable(scalar()),
});
const cases = optional(closed({ by: list(id(), 1, 6), when: list(caseOf), otherwise: value }));
const columnTypes = ["text", "number", "image", "sound", "video", "color", "yes-no"];
const column = closed({ id: id(), name: valueName(), type: oneOf(columnTypes), factor: yesNo(), cases });

const columnsOf = () => list(id(), 0, 20);
const limitKinds: Record<LimitKind, () => yup.Schema> = {
  "longest-run": () =>
    closed({ kind: oneOf(["longest-run"]), columns: columnsOf(), most: whole(1).max(1000, "must be at most 1000") }),
  "smallest-gap": () =>
    closed({
      kind: oneOf(["smallest-gap"]),
      columns: columnsOf(),
      atLeast: whole(1).max(1000, "must be at most 1000"),
    }),
  "most-in-window": () =>
    closed({
      kind: oneOf(["most-in-window"]),
      columns: columnsOf(),
      only: list(scalar(), 0, 1000),
      most: whole(0),
      window: whole(2).max(1000, "must be at most 1000"),
    }),
  "edge-trials": () =>
    closed({
      kind: oneOf(["edge-trials"]),
      at: oneOf(["first", "last"]),
      column: id(),
      only: list(scalar(), 0, 1000),
      count: whole(1),
    }),
  "balanced-transitions": () =>
    closed({ kind: oneOf(["balanced-transitions"]), columns: columnsOf(), itself: oneOf(["as-often", "never"]) }),
};
const limit = byField("kind", limitKinds);
const givenSequence = closed({ participant: nullable(whole(1)), rows: list(id(), 0, 100_000) });
const order = closed({
  method: oneOf(["as-listed", "shuffled", "with-replacement", "given"]),
  passes: whole(1).max(1000, "must be at most 1000"),
  take: optional(whole(1).max(20_000, "must be at most 20000")),
  takeEach: optional(columnsOf()),
  within: optional(id()),
  subBlocks: optional(oneOf(["listed", "shuffled", "latin-square"])),
  limits: list(limit, 0, 30),
  given: optional(closed({ file: title(200), sequences: list(givenSequence, 0, 10_000) })),
});

const block = () =>
  closed({
    kind: oneOf(["block"]),
    id: id(),
    name: title(),
    sharesWith: optional(id()),
    practice: yesNo(),
    notes: anyText(20_000),
    order,
    table: closed({ columns: list(column, 0, 200), rows: list(row, 0, 20_000) }),
    scenes: list(scene, 0, 100),
    answers: list(answer, 0, 20),
    criterion: yup
      .object({ rightShare: finite(), overTrials: whole(1), atMostPasses: whole(1) })
      .optional()
      .default(undefined),
    timedFrom: optional(oneOf(["trial"])),
    breaks: optional(
      closed({
        everyTrials: whole(1).max(10_000, "must be at most 10000"),
        body: formattedText,
        leastSeconds: finite().min(0, "must be 0 or more").max(3600, "must be at most an hour"),
      }),
    ),
    rules: list(closed({ id: id(), name: title() })),
  });
const page = () =>
  closed({
    kind: oneOf(["page"]),
    id: id(),
    name: title(),
    body: formattedText,
    continueLabel: title(80),
    notes: anyText(20_000),
  });

const runningNode: yup.Lazy<unknown> = byField("kind", {
  part: () =>
    closed({ kind: oneOf(["part"]), part: id(), onlyGroups: yup.array(id()).optional(), when: optionalCondition }),
  bracket: () =>
    closed({
      kind: oneOf(["bracket"]),
      id: id(),
      arrange: oneOf(["listed", "shuffled", "every-order", "latin-square", "balanced-latin-square"]),
      take: yup.number().optional().integer("must be a whole number").min(1, "must be 1 or more"),
      nodes: list(runningNode),
    }),
});

const valueType = () => oneOf(["text", "number", "yes-no", "key"]);
const mediaFile = closed({
  id: id(),
  name: title(200),
  sha256: yup
    .string()
    .required("is missing")
    .matches(/^[0-9a-f]{64}$/, "must be a SHA-256 in hexadecimal"),
  mime: oneOf(mediaTypes),
  bytes: whole(1),
  width: yup.number().optional().moreThan(0, "must be greater than 0"),
  height: yup.number().optional().moreThan(0, "must be greater than 0"),
  ms: yup.number().optional().min(0, "must be 0 or more"),
});

const parameter = () =>
  yup
    .string()
    .required("is missing: type a name")
    .matches(/^[A-Za-z][A-Za-z0-9_-]{0,39}$/, "must be letters, digits, _ or -, beginning with a letter");
const allocation = closed({
  method: oneOf(["permuted-blocks", "least-filled", "by-number", "by-parameter", "by-experimenter"]),
  blockSizes: list(whole(1).max(20, "must be at most 20"), 1, 10),
  parameter: optional(
    closed({
      name: parameter(),
      values: record(() => anyText(200)),
      otherwise: oneOf(["least-filled", "refuse"]),
    }),
  ),
  strata: list(closed({ parameter: parameter(), values: list(anyText(200), 1, 50) }), 0, 2),
  counts: closed({
    sessions: oneOf(["finished-and-active", "finished", "all"]),
    activeMinutes: whole(1).max(100_000, "must be at most 100000"),
    excluded: oneOf(["keeps", "gives-back"]),
  }),
});

const pixels = () => whole(100).max(10_000, "must be at most 10000");
const participation = closed({
  welcome: anyText(10_000),
  contact: anyText(1000),
  ownCode: oneOf(["none", "may", "must"]),
  checks: closed({
    smallest: optional(closed({ width: pixels(), height: pixels() })),
    keyboard: yesNo(),
    sound: yesNo(),
  }),
  elsewhere: yesNo(),
  others: optional(yesNo()),
  interrupted: oneOf(["finish", "redo"]),
  withdrawn: oneOf(["keep", "remove"]),
  wording: yup.lazy((input: unknown) => {
    const keys = typeof input === "object" && input !== null && !Array.isArray(input) ? Object.keys(input) : [];
    return closed(Object.fromEntries(keys.filter(isWordingName).map((key) => [key, anyText(2000)])));
  }),
});

export const studySchema = closed({
  format: oneOf(["lapwing-study"]),
  version: finite().oneOf([currentVersion], `must be ${currentVersion}`),
  title: title(200),
  description: anyText(20_000),
  language: yup
    .string()
    .required("is missing")
    .matches(/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/, "must be a language tag such as en or de-CH"),
  groups: list(closed({ id: id(), name: title(60), share: optional(whole(1).max(20, "must be at most 20")) }), 1, 60),
  groupValues: list(closed({ id: id(), name: valueName(), type: valueType(), perGroup: record(scalar) }), 0, 200),
  variables: list(
    closed({
      id: id(),
      name: valueName(),
      type: valueType(),
      start: yup.lazy((value: unknown) => (value === null ? yup.mixed().nullable() : scalar())),
      from: yup.object({ urlParameter: yup.string().required() }).optional().default(undefined),
    }),
    0,
    200,
  ),
  runningOrder: list(runningNode, 0, 1000),
  parts: record(() => byField("kind", { page, block })),
  media: list(mediaFile, 0, 20_000),
  allocation,
  settings: closed({
    seed: yup
      .string()
      .required("is missing")
      .matches(/^[A-Za-z0-9-]{1,40}$/, "must have only letters, digits and hyphens"),
    stageColor: yup.string().required("is missing").matches(colorShape, "must be a colour such as #eeeadf"),
    textColor: yup.string().required("is missing").matches(colorShape, "must be a colour such as #17211e"),
    fullScreen: yesNo(),
    progressBar: yesNo(),
    participation,
    viewing: optional(
      closed({
        distanceCm: finite().moreThan(0, "must be greater than 0"),
        shorterSideCm: finite().moreThan(0, "must be greater than 0"),
      }),
    ),
  }),
  notes,
});

export type Mistake = { path: string; message: string };

/** All places where `value` does not follow the format; an empty list means it is a `StudyDocument` in shape. */
export function shapeMistakes(value: unknown): Mistake[] {
  try {
    studySchema.validateSync(value, { abortEarly: false, strict: true });
    return [];
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const each = error.inner.length > 0 ? error.inner : [error];
    return each.map(({ path, message }) => ({ path: path ?? "", message }));
  }
}

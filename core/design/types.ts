/**
 * The study document: everything about one experiment as one JSON value.
 * Every reference is by id; names are for people and may change at any time.
 */

export type Id = string;
export type Scalar = string | number | boolean;

/** Where a value comes from when it is not a constant. */
export type Ref = { column: Id } | { groupValue: Id } | { variable: Id } | { builtIn: string };

export type Binding = { from: Ref };
/** A property that is either a constant or taken from a column, group value, variable or built-in name. */
export type Bindable<T extends Scalar> = T | Binding;

export type Mark = "bold" | "italic";
/** A stretch of text in one style, or a name whose value is put in when it is shown. */
export type Run = { text: string; marks?: Mark[] | undefined } | { ref: Ref; marks?: Mark[] | undefined };
export type Paragraph = { as: "paragraph" | "heading" | "bullet" | "numbered"; runs: Run[] };
export type FormattedText = Paragraph[];

export type Comparison = "=" | "≠" | "<" | "≤" | ">" | "≥";
export type Operand = Scalar | null | Binding;
export type Condition =
  { all: Condition[] } | { any: Condition[] } | { not: Condition } | { left: Operand; is: Comparison; right: Operand };

export type ValueType = "text" | "number" | "yes-no" | "key";
export type Group = { id: Id; name: string };
export type GroupValue = { id: Id; name: string; type: ValueType; perGroup: Record<Id, Scalar> };
export type Variable = {
  id: Id;
  name: string;
  type: ValueType;
  start: Scalar | null;
  from?: { urlParameter: string } | undefined;
};

export type Arrangement = "listed" | "shuffled" | "every-order" | "latin-square" | "balanced-latin-square";
export type RunningNode =
  | { kind: "part"; part: Id; onlyGroups?: Id[] | undefined; when?: Condition | undefined }
  | { kind: "bracket"; id: Id; arrange: Arrangement; take?: number | undefined; nodes: RunningNode[] };

export type Page = { kind: "page"; id: Id; name: string; body: FormattedText; continueLabel: string; notes: string };

export type ColumnType = "text" | "number" | "image" | "color" | "yes-no";
/** A column whose cells follow from another column of the same table by a small table of cases. */
export type Cases = { by: Id; when: { value: Scalar; gives: Bindable<Scalar> }[]; otherwise: Bindable<Scalar> | null };
export type Column = { id: Id; name: string; type: ColumnType; factor: boolean; cases?: Cases | undefined };
export type Row = { id: Id; copies: number; cells: Record<Id, Scalar | null> };
export type TrialTable = { columns: Column[]; rows: Row[] };

export type Limit =
  | { kind: "longest-run"; column: Id; most: number }
  | { kind: "smallest-gap"; column: Id; atLeast: number }
  | { kind: "balanced-transitions"; column: Id }
  | { kind: "first-trials"; column: Id; only: Scalar[]; count: number };
export type OrderMethod = "as-listed" | "shuffled" | "with-replacement" | "given";
export type TrialOrder = {
  method: OrderMethod;
  passes: number;
  take?: number | undefined;
  within?: Id | undefined;
  limits: Limit[];
};

/** How long a scene stays. All durations are in milliseconds. */
export type Lasts =
  | { kind: "ms"; ms: Bindable<number> }
  | { kind: "random-ms"; from: number; to: number; step: number }
  | { kind: "until-answer"; atMostMs?: Bindable<number> | undefined };

/** Positions and sizes are in stage units: origin at the centre, y upwards, 100 units are the shorter side. */
type ItemBase = {
  id: Id;
  name: string;
  at: { x: Bindable<number>; y: Bindable<number> };
  when?: Condition | undefined;
};
export type TextItem = ItemBase & {
  kind: "text";
  text: FormattedText;
  /** Height of the letters' em box, in stage units. */
  fontSize: Bindable<number>;
  color: Bindable<string>;
  weight: "regular" | "bold";
  align: "left" | "center" | "right";
  /** Lines wrap at this width, in stage units. */
  width: Bindable<number>;
};
export type ImageItem = ItemBase & {
  kind: "image";
  picture: Bindable<string>;
  size: { w: Bindable<number>; h: Bindable<number> };
  /** Pictures are drawn facing right; "left" mirrors them. */
  faces: Bindable<string>;
  /** 0 to 100. */
  opacity: Bindable<number>;
};
export type ShapeForm = "rectangle" | "ellipse" | "line" | "cross";
export type ShapeItem = ItemBase & {
  kind: "shape";
  form: ShapeForm;
  size: { w: Bindable<number>; h: Bindable<number> };
  fill: Bindable<string>;
  line: Bindable<string>;
  /** Width of the outline or of the strokes, in stage units. */
  lineWidth: Bindable<number>;
};
export type Item = TextItem | ImageItem | ShapeItem;
export type ItemKind = Item["kind"];

export type Scene = {
  id: Id;
  name: string;
  lasts: Lasts;
  items: Item[];
  when?: Condition | undefined;
  marker?: string | undefined;
};

/** A key by the value of the keyboard event's `key`, lower case for letters; `Space` for the space bar. */
export type KeyDevice = { device: "keys"; keys: Bindable<string>[] };
export type AnswerSpec = {
  id: Id;
  name: string;
  /** Scene whose onset opens the window; the reaction time counts from it. */
  opensWith: Id;
  /** Scene whose end closes the window. */
  closesWith: Id;
  by: KeyDevice[];
  right?: Bindable<string | number> | undefined;
  match: "exact" | "ignore-case" | "number";
  onAnswer: "move-on" | "stay";
};

export type Criterion = { rightShare: number; overTrials: number; atMostPasses: number };
export type Rule = { id: Id; name: string };

export type Block = {
  kind: "block";
  id: Id;
  name: string;
  table: TrialTable;
  scenes: Scene[];
  answers: AnswerSpec[];
  order: TrialOrder;
  practice: boolean;
  criterion?: Criterion | undefined;
  pause?: { everyTrials: number; page: Id } | undefined;
  rules: Rule[];
  notes: string;
};
export type Part = Page | Block;

export type MediaFile = {
  id: Id;
  name: string;
  sha256: string;
  mime: string;
  bytes: number;
  /** Pixel size; an SVG's comes from its view box. */
  width: number;
  height: number;
};

export type Allocation = { groups: "equal" };

export type Settings = {
  /** Everything drawn at random in the study follows from this text and the participant's number. */
  seed: string;
  stageColor: string;
  textColor: string;
  fullScreen: boolean;
  progressBar: boolean;
};

export type StudyDocument = {
  format: "lapwing-study";
  version: number;
  title: string;
  description: string;
  /** BCP 47 tag. */
  language: string;
  groups: Group[];
  groupValues: GroupValue[];
  variables: Variable[];
  runningOrder: RunningNode[];
  parts: Record<Id, Part>;
  media: MediaFile[];
  allocation: Allocation;
  settings: Settings;
};

export const isBinding = (value: unknown): value is Binding =>
  typeof value === "object" && value !== null && "from" in value;

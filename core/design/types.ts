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
/** A between-participants condition. Without a share it gets one place in each round, like the others. */
export type Group = { id: Id; name: string; share?: number | undefined };
export type GroupValue = { id: Id; name: string; type: ValueType; perGroup: Record<Id, Scalar> };
export type Variable = {
  id: Id;
  name: string;
  type: ValueType;
  start: Scalar | null;
  from?: { urlParameter: string } | undefined;
};

/** How the parts of a bracket are ordered for each participant. */
export type Arrangement = "listed" | "shuffled" | "every-order" | "latin-square" | "balanced-latin-square";
export type RunningNode =
  | { kind: "part"; part: Id; onlyGroups?: Id[] | undefined; when?: Condition | undefined }
  | { kind: "bracket"; id: Id; arrange: Arrangement; take?: number | undefined; nodes: RunningNode[] };

export type Page = { kind: "page"; id: Id; name: string; body: FormattedText; continueLabel: string; notes: string };

export type ColumnType = "text" | "number" | "image" | "sound" | "video" | "color" | "yes-no";
/**
 * A column whose cells follow from others of the same table by a small table of cases. A case holds when every source
 * column has its value, or when two source columns are the same or differ; the first that holds counts.
 */
export type Case = { is: (Scalar | null)[] | "same" | "different"; gives: Bindable<Scalar> };
export type Cases = { by: Id[]; when: Case[]; otherwise: Bindable<Scalar> | null };
export type Column = { id: Id; name: string; type: ColumnType; factor: boolean; cases?: Cases | undefined };
export type Row = { id: Id; copies: number; cells: Record<Id, Scalar | null>; note?: string | undefined };
export type TrialTable = { columns: Column[]; rows: Row[] };

/**
 * A constraint on the order of trials, over the whole block: across passes and across the seams of sub-blocks. Values of
 * several columns count together, as one combination; no column at all means the row itself.
 */
export type Limit =
  /** At most `most` trials with equal values directly after each other. */
  | { kind: "longest-run"; columns: Id[]; most: number }
  /** At least `atLeast` other trials between two with equal values. */
  | { kind: "smallest-gap"; columns: Id[]; atLeast: number }
  /** Any `window` trials in a row hold at most `most` with the same value; with `only`, at most `most` of these values. */
  | { kind: "most-in-window"; columns: Id[]; only: Scalar[]; most: number; window: number }
  /** The first or last `count` trials have only these values. */
  | { kind: "edge-trials"; at: "first" | "last"; column: Id; only: Scalar[]; count: number }
  /** Each value follows each other one equally often; itself as often too, or never. */
  | { kind: "balanced-transitions"; columns: Id[]; itself: "as-often" | "never" };
export type LimitKind = Limit["kind"];
export type OrderMethod = "as-listed" | "shuffled" | "with-replacement" | "given";
/** Explicit sequences of a block's trials. `participant` is null for the one that is played by all. */
export type GivenSequence = { participant: number | null; rows: Id[] };
export type SubBlockArrangement = "listed" | "shuffled" | "latin-square";
export type TrialOrder = {
  method: OrderMethod;
  passes: number;
  /** Trials in a pass, where they are not as many as the rows' copies. */
  take?: number | undefined;
  /** Columns whose combinations keep their shares in what is taken. */
  takeEach?: Id[] | undefined;
  /** Rows with the same value here stay together, as sub-blocks. */
  within?: Id | undefined;
  subBlocks?: SubBlockArrangement | undefined;
  limits: Limit[];
  given?: { file: string; sequences: GivenSequence[] } | undefined;
};

/** How long a scene stays. All durations are in milliseconds. */
export type Lasts =
  | { kind: "ms"; ms: Bindable<number> }
  | { kind: "random-ms"; from: number; to: number; step: number }
  | { kind: "until-answer"; atMostMs?: Bindable<number> | undefined }
  /** Until the longest of its sounds and videos has ended. */
  | { kind: "media-end" };

export type Size = { w: Bindable<number>; h: Bindable<number> };
/** Positions and sizes are in stage units: origin at the centre, y upwards, 100 units are the shorter side. */
type ItemBase = {
  id: Id;
  name: string;
  when?: Condition | undefined;
  /** Milliseconds after its scene's onset at which it comes on and goes; with the scene where they are absent. */
  begins?: Bindable<number> | undefined;
  ends?: Bindable<number> | undefined;
};
/** What has a place on the stage. */
type Placed = ItemBase & {
  at: { x: Bindable<number>; y: Bindable<number> };
  /** Degrees, clockwise. */
  turned: Bindable<number>;
  /** Not moved by the mouse or the arrow keys while composing. */
  locked: boolean;
};
type Sized = Placed & { size: Size };

export type Font =
  "Atkinson Hyperlegible Next" | "Newsreader" | "JetBrains Mono" | "sans-serif" | "serif" | "monospace";
export type TextItem = Placed & {
  kind: "text";
  text: FormattedText;
  font: Font;
  /** Height of the letters' em box, in stage units. */
  fontSize: Bindable<number>;
  color: Bindable<string>;
  weight: "regular" | "bold";
  align: "left" | "center" | "right";
  /** Distance of lines as a multiple of the letter size. */
  lineSpacing: number;
  direction: "auto" | "left-to-right" | "right-to-left";
  /** Lines wrap at this width, in stage units. */
  width: Bindable<number>;
};
/** How a picture or video fills its box: whole, cropped, or distorted in one or both directions. */
export type Fit = "inside" | "cover" | "stretch" | "stretch-across" | "stretch-upright";
export type ImageItem = Sized & {
  kind: "image";
  picture: Bindable<string>;
  fit: Fit;
  /** Pictures are drawn facing right; "left" mirrors them. */
  faces: Bindable<string>;
  upsideDown: boolean;
  /** 0 to 100. */
  opacity: Bindable<number>;
};
export type ShapeForm = "rectangle" | "ellipse" | "line" | "arrow" | "cross" | "polygon" | "star" | "ring";
export type ShapeItem = Sized & {
  kind: "shape";
  form: ShapeForm;
  fill: Bindable<string>;
  line: Bindable<string>;
  /** Width of the outline or of the strokes, in stage units; for a ring, the width of the ring. */
  lineWidth: Bindable<number>;
  /** Corners of a polygon, points of a star. */
  corners: Bindable<number>;
  /** Opening of a ring to the right, in degrees of its circle; 29° for an acuity ring, stroke and gap a fifth of its diameter (ISO 8596). */
  gap: Bindable<number>;
  opacity: Bindable<number>;
};
/** A luminance grating in a patch. The envelope fades it into what lies behind. */
export type GratingItem = Sized & {
  kind: "grating";
  wave: "sine" | "square";
  envelope: "gaussian" | "circle" | "none";
  /** Cycles per stage unit. */
  frequency: Bindable<number>;
  /** Degrees of a cycle at the patch's centre. */
  phase: Bindable<number>;
  /** Michelson contrast, 0 to 100 per cent. */
  contrast: Bindable<number>;
  /** Grey level between black (0) and white (100), in per cent of the display's code range. */
  mean: Bindable<number>;
  /** Cycles per second; 0 stands still. */
  drift: Bindable<number>;
};
export type ElementLook = {
  form: ShapeForm | "picture" | "text";
  color: Bindable<string>;
  picture: Bindable<string>;
  text: Bindable<string>;
  turned: Bindable<number>;
};
/** Many elements at places drawn for each trial from the session's seed. Its size is that of the field they lie in. */
export type ArrayItem = Sized & {
  kind: "array";
  arrangement: "ring" | "grid" | "scattered";
  count: Bindable<number>;
  /** Side of an element, in stage units. */
  element: Bindable<number>;
  /** Cells of the grid across and upright. */
  across: number;
  upright: number;
  /** Least distance between the centres of scattered elements, in stage units. */
  distance: number;
  /** Whether one of the elements is the target. */
  present: Bindable<boolean>;
  targetIn: "anywhere" | "left" | "right" | "upper" | "lower";
  target: ElementLook;
  others: ElementLook;
};
/** A file or a generated tone or noise; lengths in milliseconds, volume 0 to 100, balance −100 (left) to 100 (right). */
export type SoundSource =
  | { from: "file"; file: Bindable<string>; startMs: number; stopMs: number | null }
  | { from: "tone"; hertz: Bindable<number>; ms: Bindable<number>; rampMs: number }
  | { from: "noise"; ms: Bindable<number>; rampMs: number };
export type SoundItem = ItemBase & {
  kind: "sound";
  source: SoundSource;
  volume: Bindable<number>;
  balance: Bindable<number>;
  loop: boolean;
};
export type VideoItem = Sized & {
  kind: "video";
  file: Bindable<string>;
  startMs: number;
  stopMs: number | null;
  fit: Fit;
  volume: Bindable<number>;
  /** What happens when it has come to its end. */
  atEnd: "hold" | "vanish" | "loop";
};
/** A page of its own in a sandboxed frame: an address, or a self-contained HTML file of the study. */
export type WebItem = Sized & {
  kind: "web";
  page: { from: "address"; address: Bindable<string> } | { from: "file"; file: Bindable<string> };
};
export type ButtonItem = Sized & {
  kind: "button";
  label: Bindable<string>;
  fontSize: Bindable<number>;
  fill: Bindable<string>;
  color: Bindable<string>;
};
export type EntryItem = Sized & {
  kind: "entry";
  lines: "one" | "several";
  takes: "text" | "number";
  /** Longest text, in characters. */
  longest: number;
  hint: string;
  fontSize: Bindable<number>;
};
export type SliderItem = Sized & {
  kind: "slider";
  from: number;
  to: number;
  step: number;
  leftLabel: Bindable<string>;
  rightLabel: Bindable<string>;
  /** Where the mark stands at first; null shows none before the first touch. */
  start: number | null;
  fontSize: Bindable<number>;
};
export type Item =
  | TextItem
  | ImageItem
  | ShapeItem
  | GratingItem
  | ArrayItem
  | SoundItem
  | VideoItem
  | WebItem
  | ButtonItem
  | EntryItem
  | SliderItem;
export type ItemKind = Item["kind"];
export type PlacedItem = Extract<Item, { at: unknown }>;
export type SizedItem = Extract<Item, { size: unknown }>;

export type Scene = {
  id: Id;
  name: string;
  lasts: Lasts;
  items: Item[];
  when?: Condition | undefined;
  marker?: string | undefined;
  notes?: string | undefined;
};

/**
 * Keys by the letter they type (the event's `key`, lower case) or by their place on the keyboard (the letter a US
 * keyboard has there); `Space` for the space bar. Held: the answer is the press, once it has lasted `holdMs`.
 */
export type KeyDevice = {
  device: "keys";
  keys: Bindable<string>[];
  by: "letter" | "place";
  act: "press" | "release" | "hold";
  holdMs: number;
};
/** Mouse, pen or touch on an item (a button also by keyboard) or in a region; the value it stands for, or its name. */
export type Target = { value: Bindable<Scalar> | null } & (
  { item: Id } | { region: string; at: { x: number; y: number }; size: { w: number; h: number } }
);
export type PointerDevice = { device: "pointer"; targets: Target[] };
/** What was typed into an entry, when Enter is pressed or the button chosen here. */
export type TypedDevice = { device: "typed"; item: Id; confirm: Id | null };
/** Where a slider was left, when it is let go or the button chosen here is pressed. */
export type SliderDevice = { device: "slider"; item: Id; confirm: Id | null };
/** A value that a web page sends. */
export type PageDevice = { device: "web"; item: Id };
export type AnswerDevice = KeyDevice | PointerDevice | TypedDevice | SliderDevice | PageDevice;
export type AnswerSpec = {
  id: Id;
  name: string;
  /** Scene whose onset opens the window. */
  opensWith: Id;
  /** Scene whose end closes the window. */
  closesWith: Id;
  /** Scene whose onset the reaction time counts from, where that is not the opening one. */
  countsFrom?: Id | undefined;
  by: AnswerDevice[];
  right?: Bindable<string | number> | undefined;
  /** `one-of`: the right answer lists several, separated by semicolons; spelling as with `ignore-case`. */
  match: "exact" | "ignore-case" | "number" | "one-of";
  /** Largest distance from a right number. */
  tolerance?: number | undefined;
  counts: "first" | "last";
  onAnswer: "move-on" | "stay";
  /** What an answer before the window does; it is recorded in both cases. */
  onEarly: "go-on" | "end-window";
};

export type Criterion = { rightShare: number; overTrials: number; atMostPasses: number };
export type Rule = { id: Id; name: string };
/** A rest after every so many trials of a block, but not behind its last one. */
export type Breaks = {
  everyTrials: number;
  /** What is read meanwhile; the block's accuracy and mean reaction time can stand in it. */
  body: FormattedText;
  /** The participant can go on only after this time. */
  leastSeconds: number;
};

export type Block = {
  kind: "block";
  id: Id;
  name: string;
  /** The block whose trials these are too: table, scenes and answers are the same in both, an edit in one reaches the other. */
  sharesWith?: Id | undefined;
  table: TrialTable;
  scenes: Scene[];
  answers: AnswerSpec[];
  order: TrialOrder;
  practice: boolean;
  /** Whether each scene is timed from its own onset (the rule), or all of a trial from the trial's. */
  timedFrom?: "trial" | undefined;
  criterion?: Criterion | undefined;
  breaks?: Breaks | undefined;
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
  /** Pixel size of a picture or video; an SVG's comes from its view box. */
  width?: number | undefined;
  height?: number | undefined;
  /** Length of a sound or video, in milliseconds. */
  ms?: number | undefined;
};

/**
 * How participants get their group and the orders of the brackets. All methods fill the cells of the scheme (group ×
 * orders) evenly, in proportion to the groups' shares, within each stratum by itself.
 */
export type AllocationMethod = "permuted-blocks" | "least-filled" | "by-number" | "by-parameter" | "by-experimenter";
export type Allocation = {
  method: AllocationMethod;
  /** Permuted blocks hold every group as often as its share says, so many times; of several lengths, one is drawn for each block. */
  blockSizes: number[];
  /** A parameter of the entry link whose value names the group. */
  parameter?: { name: string; values: Record<Id, string>; otherwise: "least-filled" | "refuse" } | undefined;
  /** What is known of participants beforehand, as parameters of the entry link: each combination of values is filled by itself. */
  strata: { parameter: string; values: string[] }[];
  counts: Counting;
};
/** Which sessions hold a place in their cell. */
export type Counting = {
  sessions: "finished-and-active" | "finished" | "all";
  /** A session without a sign of life for so long is no longer active. */
  activeMinutes: number;
  /** Whether a session that is excluded later keeps its place or gives it back. */
  excluded: "keeps" | "gives-back";
};

/** What participants meet around the parts of the study: from the link to the goodbye. */
export type Participation = {
  /** Said on the entry page below the title, one paragraph a line. */
  welcome: string;
  /** Whom participants can ask, shown on the entry page and wherever something cannot go on. */
  contact: string;
  /** Whether participants type a code of their own at the entry. A code that comes with the link is not asked for. */
  ownCode: "none" | "may" | "must";
  /** What is looked at before anything is loaded. */
  checks: {
    /** Smallest window, in CSS pixels. */
    smallest?: { width: number; height: number } | undefined;
    keyboard: boolean;
    sound: boolean;
  };
  /** Whether a session can go on at another computer, with the participant's code. */
  elsewhere: boolean;
  /** Whether another person can begin on a computer where somebody has begun or finished, as in a laboratory. */
  others?: boolean | undefined;
  /** A trial in which the focus or the full screen is lost is finished, or broken off and played again. */
  interrupted: "finish" | "redo";
  /** What becomes of the records of somebody who leaves for good. */
  withdrawn: "keep" | "remove";
  /** Own wording of participants' pages, by the text's name; the rest is as shipped in the study's language. */
  wording: Record<string, string>;
};

export type Settings = {
  /** Everything drawn at random in the study follows from this text and the participant's number. */
  seed: string;
  stageColor: string;
  textColor: string;
  fullScreen: boolean;
  progressBar: boolean;
  participation: Participation;
  /** For sizes in degrees of visual angle: how far the eyes are from a stage whose shorter side is so long, in cm. */
  viewing?: { distanceCm: number; shorterSideCm: number } | undefined;
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
  notes?: string | undefined;
};

export const isBinding = (value: unknown): value is Binding =>
  typeof value === "object" && value !== null && "from" in value;

/** A group or cell with how many count in it, and its share of all. */
export type Filled = { name: string; count: number; share: number };
/** What is told of a wave's sessions to those who look after them. */
export type LiveFacts = {
  /** Sessions begun, pilots and those that do not count apart. */
  started: number;
  /** At which part people left, in the order of parts; the empty name for before the first. */
  leaving: { part: string; count: number }[];
  groups: Filled[];
  /** Of sessions with enough scenes to tell: how many had many late ones. */
  timed: number;
  late: number;
  /** Sessions with records that were kept aside. */
  keptAside: number;
};

/** A session has many late scenes where more than this share of at least so many scenes were late. */
export const [manyLate, enoughScenes] = [0.05, 20];
/** From these on it is said: groups behind by, people who left at one part, and their share of all. */
const [behindBy, leftAt, shareLeft, shareLate] = [3, 5, 0.2, 0.1];

/** What needs somebody, in a sentence each; nothing where all is well. */
export function liveMessages({ started, leaving, groups, timed, late, keptAside }: LiveFacts): string[] {
  const all = groups.reduce((sum, { count }) => sum + count, 0);
  const shares = groups.reduce((sum, { share }) => sum + share, 0);
  const behind = groups.flatMap(({ name, count, share }) => {
    const due = Math.floor((all * share) / shares);
    return due - count >= behindBy
      ? [`${name} is behind: it has ${count}, and by its share it should have ${due}.`]
      : [];
  });
  const most = leaving.toSorted((a, b) => b.count - a.count)[0];
  return [
    ...behind,
    ...(most && most.count >= leftAt && most.count >= shareLeft * started
      ? [
          `${most.count} of ${started} left ${most.part === "" ? "before the first part" : `at ${most.part}`}. Play it as they do.`,
        ]
      : []),
    ...(late > 0 && late >= shareLate * timed
      ? [
          `In ${late} of ${timed} sessions more than ${100 * manyLate} % of scenes were late. Look at timing in Results.`,
        ]
      : []),
    ...(keptAside > 0
      ? [
          `Records of ${keptAside === 1 ? "one session were" : `${keptAside} sessions were`} kept aside. Look at them below.`,
        ]
      : []),
  ];
}

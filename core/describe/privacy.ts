import { endNames, parametersOf, type Ends } from "../collect/ends";
import { allRules, anyDoes } from "../design/all-rules";
import { blocksInOrder, itemsIn } from "../design/lookup";
import { pagesInOrder, questionsInOrder } from "../design/questions";
import { looksAtDevice } from "../values/device";
import type { StudyDocument } from "../design/document";

/** What is kept of participants of a study, in sentences by their heading. */
export type PrivacyText = { heading: string; sentences: string[] }[];

/** Under this heading stands how long codes are kept, which a study sets. */
export const keepingHeading = "How long";

/** Addresses outside the server that a study's pages load or may fetch from. */
function reachedOutside(document: StudyDocument): string[] {
  const items = blocksInOrder(document).flatMap((block) => itemsIn(block));
  const reached = items.flatMap((item) => {
    if (item.kind !== "web") return [];
    if (item.page.from === "file") return item.connects ?? [];
    return [typeof item.page.address === "string" ? item.page.address : "the addresses in its table"];
  });
  const sites = pagesInOrder(document).flatMap(({ flow }) =>
    flow.flatMap((piece) => (piece.kind === "site" ? [piece.address] : [])),
  );
  const asked = anyDoes(allRules(document), "ask") ? document.services.map(({ address }) => address) : [];
  return [...new Set([...reached, ...sites, ...asked].filter((address) => address !== ""))];
}

/** What the links of a study add: whether some are for one person each, and what they say of ends. */
export type OfLinks = { arePersonal: boolean; ends: readonly Ends[] };
const noLinks: OfLinks = { arePersonal: false, ends: [] };

const quoted = (names: readonly string[]): string => [...new Set(names)].map((name) => `“${name}”`).join(", ");

/** The servers to which people are led at their end. */
const ledTo = (ends: readonly Ends[]): string[] => [
  ...new Set(
    ends.flatMap((all) =>
      endNames.flatMap((name) => {
        const { address } = all[name] ?? {};
        return address === undefined ? [] : [/^https?:\/\/([^/?#]*)/i.exec(address.trim())?.[1] ?? address];
      }),
    ),
  ),
];

const inYears = (years: number): string => `${years} ${years === 1 ? "year" : "years"}`;

/** What is kept, how long, what happens when somebody leaves, and what leaves the server; by the study's settings and its links. */
export function privacyOf(
  document: StudyDocument,
  { arePersonal: hasPersonalLinks, ends }: OfLinks = noLinks,
): PrivacyText {
  const broughtBack = ends.flatMap((all) => parametersOf(all));
  const led = ledTo(ends);
  const { participation } = document.settings;
  const { ownCode, elsewhere, withdrawn, namesKeptDays, answersKeptYears } = participation;
  const outside = reachedOutside(document);
  const asked = questionsInOrder(document).map(({ question }) => question);
  const isDeclined = pagesInOrder(document).some(({ endings }) => endings.some(({ as }) => as === "declined"));
  const fromLink = document.variables.flatMap(({ from }) => (from ? [from.urlParameter] : []));
  const hasOwnCode = asked.some(({ kind }) => kind === "own-code");
  return [
    {
      heading: "What is kept of a participant",
      sentences: [
        "Answers with their times, and what was shown when.",
        ...(asked.length > 0
          ? [
              `What they answer to ${asked.length} ${asked.length === 1 ? "question" : "questions"} on pages, with when each was touched and how often it was changed.`,
            ]
          : []),
        ...(asked.some(({ kind }) => kind === "long-text" || kind === "short-text")
          ? ["Whatever they write in texts of their own, which may say who they are."]
          : []),
        ...(hasOwnCode ? ["A code of their own making, by which sittings can be put together."] : []),
        "When the session began, was last seen and ended; what happened to its window, keys and network meanwhile.",
        "The name and version of the browser, the size of its window and the refresh rate of the screen.",
        ...(document.settings.gaze
          ? [
              "Where both eyes looked on the screen, sample by sample, with the size of the pupils and how far away they were: on the server, and in a file of the bridge on the laboratory computer, where it stays until somebody deletes it.",
            ]
          : []),
        ...(looksAtDevice(document)
          ? [
              "Whether the device is worked by touch, and the language its browser is set to, since the study looks at it.",
            ]
          : []),
        ownCode === "none"
          ? "No name and no address. A code only where the link they came by brings one."
          : `The code they ${ownCode === "must" ? "have to type" : "can type"} at the beginning. No name and no address beside it.`,
        ...(fromLink.length > 0
          ? [
              `What the link they came by says as ${quoted(fromLink)}, with what rules make of it; whoever sends the links decides what that tells.`,
            ]
          : []),
        ...(hasPersonalLinks
          ? [
              "Which of the links for one person each they came by, with the name and the note it was given: in Collect only, in no data that are exported.",
            ]
          : []),
        ...(broughtBack.length > 0
          ? [
              `What the address of their link says as ${quoted(broughtBack)}, to lead them back to where they came from: apart from the data, and exported only in a table of codes that has to be asked for.`,
            ]
          : []),
        "What the team notes of a session, and why it does not count where they say so: the notes in Collect only.",
        ...(elsewhere ? ["A random code with which they can go on at another computer."] : []),
        "A completion code, made at random. Codes are exported only in a table of their own that has to be asked for.",
      ],
    },
    {
      heading: keepingHeading,
      sentences: [
        namesKeptDays === undefined
          ? `Codes and browser names${hasPersonalLinks ? ", and the names of links," : ""} are kept as long as the answers.`
          : `Codes and browser names${hasPersonalLinks ? ", and the names of links," : ""} are removed ${namesKeptDays} ${namesKeptDays === 1 ? "day" : "days"} after the wave was closed or, where it stays open, after its last session; the answers stay.`,
        answersKeptYears === undefined
          ? "Everything else is kept until the session, the participant or the study is deleted."
          : `Everything else is deleted for good ${inYears(answersKeptYears)} after the wave was closed or, where it stays open, after its last session; or before, where the session, the participant or the study is deleted.`,
      ],
    },
    {
      heading: "When somebody leaves",
      sentences: [
        ...(isDeclined ? ["Of who declines to take part nothing is kept but that somebody did, and when."] : []),
        withdrawn === "remove"
          ? "All of the session is removed at once: answers, code, browser and log. A line remains that a session was begun and left."
          : "What was answered until then is kept and marked. The last page shows a code with which it can be removed later.",
      ],
    },
    {
      heading: "Who can see it",
      sentences: [
        "The person whose account the study belongs to, and whoever runs the server.",
        "The participant’s own browser, while the session goes on.",
      ],
    },
    {
      heading: "What leaves the server",
      sentences: [
        ...(led.length > 0
          ? [
              `At the end a button can lead to ${led.join(", ")}, which then learns how the session ended, and the codes its address asks for.`,
            ]
          : []),
        ...(outside.length === 0
          ? [
              `${led.length > 0 ? "Nothing else" : "Nothing"}. Pages, fonts and media come from this server alone, and nobody else is told that somebody takes part.`,
            ]
          : [
              `Pages in this study reach ${outside.join(", ")}: whoever runs that learns the participant’s network address, and what the page sends.`,
              "Everything else comes from this server alone.",
            ]),
      ],
    },
  ];
}

/** The same as a paragraph for an ethics form or an information sheet. */
export function privacyForEthics(
  document: StudyDocument,
  { arePersonal: hasPersonalLinks, ends }: OfLinks = noLinks,
): string {
  const led = ledTo(ends);
  const { withdrawn, namesKeptDays, answersKeptYears, ownCode } = document.settings.participation;
  const outside = reachedOutside(document);
  return [
    "During the study your answers and the times at which you gave them are recorded, with the type of your browser and the size of your window.",
    document.settings.gaze
      ? "An eye tracker records where you look on the screen, and how large your pupils are; no picture of you is taken."
      : "",
    ownCode === "none"
      ? "Your name, e-mail address and network address are not recorded."
      : "They are stored under a code; your name, e-mail address and network address are not recorded.",
    hasPersonalLinks ? "They can be traced to the link that you were given." : "",
    outside.length === 0
      ? "The data are stored on the server of the institution that runs the study and are not passed to anyone else in the course of it."
      : `The data are stored on the server of the institution that runs the study. Parts of the study are loaded from ${outside.join(", ")}, whose operators learn your network address.`,
    led.length === 0 ? "" : `At the end you can go back to ${led.join(", ")}, which is told how your session ended.`,
    namesKeptDays === undefined
      ? ""
      : `Codes${hasPersonalLinks ? ", names of links" : ""} and browser types are deleted ${namesKeptDays} days after your part of the data collection was closed or had its last session; the remaining data cannot be traced to you by us after that.`,
    answersKeptYears === undefined
      ? ""
      : `All your data are deleted for good ${inYears(answersKeptYears)} after your part of the data collection was closed or had its last session; what was published of them before stays published.`,
    withdrawn === "remove"
      ? "You can leave at any time without giving reasons; your answers are then deleted at once."
      : "You can leave at any time without giving reasons. What you answered until then is kept; it is deleted if you ask for it.",
  ]
    .filter((sentence) => sentence !== "")
    .join(" ");
}

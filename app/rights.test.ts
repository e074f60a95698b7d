import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { rights, type Right } from "~/core/rights/rights";

/** Who may have a function of the server called for them: one with any of these rights in the study, or somebody else. */
type Needs = readonly Right[] | "anyone" | "signed in" | "administrators" | "owner of the account" | "laboratory";

/** Every function of the server that a page or an address calls, with what is needed for it. */
const needs: Record<string, Needs> = {
  "account-list#closeAndHandOver": "administrators",
  "account-list#listAccounts": "administrators",
  "account-list#renameAccount": "owner of the account",
  "account-list#reopenAccount": "administrators",
  "account-list#setAdmin": "administrators",
  "accounts#accountByEmail": "anyone",
  "accounts#accountById": "administrators",
  "accounts#accountOfSecret": "anyone",
  "accounts#changePassword": "owner of the account",
  "accounts#createFirstAccount": "anyone",
  "accounts#demoAccount": "anyone",
  "sign-ins#endSignIns": "owner of the account",
  "accounts#hasAccounts": "anyone",
  "accounts#isPassword": "owner of the account",
  "sign-ins#listSignIns": "owner of the account",
  "accounts#lookAround": "anyone",
  "accounts#signIn": "anyone",
  "sign-ins#signOut": "anyone",
  "comments#addComment": ["see-design"],
  "comments#commentsOn": ["see-design"],
  "comments#openComments": ["see-design"],
  "comments#resolveComment": ["see-design"],
  "computer-tests#keepComputerTest": "signed in",
  "computer-tests#listComputerTests": "signed in",
  "ends#addCodes": ["hand-out"],
  "ends#countCodes": ["see-sessions"],
  "ends#removeCodes": ["hand-out"],
  "exclusions#changeExclusions": ["leave-out"],
  "results/arrivals#arrivalsOf": ["see-results"],
  "paper#changePaper": ["see-results"],
  "persons#changePersons": ["see-results"],
  "recipes#changeRecipe": ["see-results"],
  "recipes#noteRead": ["see-results"],
  "recipes#recipeCalled": ["see-results"],
  "forgetting#deleteParticipant": ["keep-data"],
  "forgetting#deleteSession": ["keep-data", "rehearse"],
  "forgetting#deleteStudy": ["end-study"],
  "forgetting#findParticipant": ["keep-data"],
  "frozen-documents#frozenDocument": ["open-study", "see-design", "see-sessions", "hand-out"],
  "frozen-documents#frozenHash": ["open-study"],
  "history#historyOf": ["see-design"],
  "history#nameVersion": ["change-design"],
  "http/cookie#computerSecretOf": "anyone",
  "http/cookie#providerKeptOf": "anyone",
  "http/cookie#readerSecretOf": "anyone",
  "http/cookie#signInSecretOf": "anyone",
  "http/receive#withFile": ["change-design", "start-sessions"],
  "intake#intakeInWords": ["see-sessions"],
  "invites#acceptForgotten": "anyone",
  "invites#acceptInvite": "anyone",
  "invites#forgotten": "anyone",
  "invites#invite": "administrators",
  "invites#inviteOf": "anyone",
  "invites#openInvites": "administrators",
  "invites#takeBack": "administrators",
  "kept-aside#keptAsideOf": ["see-results"],
  "kept-aside#toldAside": ["see-results"],
  "lab-computers#computerOfSecret": "anyone",
  "lab-computers#computersOf": ["hand-out"],
  "lab-computers#dismiss": ["hand-out"],
  "lab-computers#enrol": ["hand-out"],
  "lab-computers#lastTest": "laboratory",
  "lab-computers#lockList": "laboratory",
  "lab-computers#openList": "laboratory",
  "labels#setLabels": ["change-design"],
  "laboratory#labList": "laboratory",
  "labs#addLab": "signed in",
  "labs#changeLab": "signed in",
  "labs#labsOf": "signed in",
  "link-sets#addLinkSet": ["hand-out"],
  "link-sets#linkSetsOf": ["see-sessions"],
  "link-sets#linksOfSet": ["hand-out"],
  "link-sets#renewLink": ["hand-out"],
  "link-sets#setLinkSet": ["hand-out"],
  "link-sets#whatLinksAdd": ["open-study"],
  "links#addLink": ["hand-out"],
  "links#countByLink": ["see-sessions"],
  "links#linksOf": ["see-sessions", "hand-out"],
  "links#setLink": ["hand-out"],
  "live#liveSummary": ["see-sessions"],
  "live#pulseOf": ["see-sessions"],
  "media/study-media#readMedia": ["open-study"],
  "media/study-media#storeMediaFile": ["change-design"],
  "new-wave#addWave": ["hand-out"],
  "moving/arrived#arrivedAt": "signed in",
  "moving/arrived#forgetArrived": "signed in",
  "moving/arrived#receiveArrived": "signed in",
  "presence#leave": ["see-design"],
  "presence#present": ["see-design"],
  "progress#collectedIn": ["see-design"],
  "progress#measuredMinutes": ["open-study"],
  "provided#signInProvided": "anyone",
  "reader-link#hasReaderLink": ["share", "open-study"],
  "reader-link#setReaderLink": ["share"],
  "reader-link#studyOfReader": "anyone",
  "records#takeInSaved": ["start-sessions"],
  "rehearsals#rehearsalAsked": ["rehearse"],
  "rehearsals#startRehearsal": ["rehearse"],
  "releases#listReleases": ["see-sessions", "rehearse", "see-design"],
  "releases#noRelease": ["open-study", "see-design", "see-results"],
  "releases#releaseAnew": ["hand-out"],
  "releases#releaseNumbered": ["open-study", "see-design", "see-results"],
  "results/fired#lastFired": ["see-design"],
  "results/rehearsed#rehearsed": ["rehearse"],
  "script-keys#accountOfKey": "anyone",
  "script-keys#endKey": ["see-results", "share"],
  "script-keys#keysOf": ["see-results", "share"],
  "script-keys#makeKey": ["see-results"],
  "second-factor#hasFactor": "owner of the account",
  "second-factor#newFactor": "owner of the account",
  "second-factor#removeFactor": "owner of the account",
  "second-factor#setFactor": "owner of the account",
  "session-list#countSessions": ["see-sessions"],
  "session-list#countSought": ["see-sessions"],
  "session-list#listSessions": ["see-sessions"],
  "session-view#addNote": ["note", "start-sessions"],
  "session-view#isPilotSession": ["keep-data", "rehearse"],
  "session-view#sessionView": ["see-sessions"],
  "session-view#whoseSession": ["leave-out", "see-results", "see-sessions"],
  "shown-session#storedSession": ["see-results"],
  "sessions#setExcluded": ["leave-out"],
  "sessions#startInLab": "laboratory",
  "sharing#setShare": ["share"],
  "sharing#setShowsGroups": ["share"],
  "sharing#sharesOf": ["open-study"],
  "sharing#showsGroups": ["open-study", "start-sessions"],
  "sittings#sittingsIn": ["see-sessions"],
  "studies#createStudy": "signed in",
  "studies#documentAt": ["see-design"],
  "studies#duplicateStudy": ["see-design"],
  "studies#findStudy": "signed in",
  "studies#findStudyByCode": "anyone",
  "study-list#foundInDesigns": "signed in",
  "study-list#listStudies": "signed in",
  "studies#saveEdit": ["change-design"],
  "studies#setBinned": ["end-study"],
  "study-list#studiesNamed": "laboratory",
  "studies#standingIn": ["open-study"],
  "study-file#importStudyFile": "signed in",
  "study-log#deedsIn": ["share", "open-study"],
  "study-log#noteDeed": "anyone",
  "study-log#noteLook": "anyone",
  "study-log#whoIs": "anyone",
  "unsuited#unsuitedOf": ["see-sessions"],
  "waves#begunWaves": ["see-sessions"],
  "waves#planOf": ["hand-out"],
  "waves#removeWave": ["hand-out"],
  "waves#setWave": ["hand-out"],
  "waves#waveOf": ["hand-out", "see-sessions"],
  "waves#wavesOf": ["see-sessions", "see-results"],
};
/** What is imported from the server and does nothing by itself: words, bounds, shapes, names. */
const harmless = new Set([
  "http/cookie#computerCookie",
  "http/cookie#providerCookie",
  "http/cookie#readerCookie",
  "http/cookie#signInCookie",
  "http/parameters#parameters",
  "invites#inviteDays",
  "moving/in-words#fatesInWords",
  "moving/in-words#takeInInWords",
  "pace#PaceKeeper",
  "rehearsals#rehearsalBody",
  "releases#freezing",
  "results/registry#resultNames",
  "script-keys#keyRight",
  "script-keys#mostKeyDays",
  "session-list#sessionOrders",
  "session-list#shownStates",
  "study-log#deedKinds",
]);

type Source = { file: string; text: string; calls: string[] };
function sources(folder: string): Source[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name.startsWith("+") ? [] : sources(path);
    if (!/\.tsx?$/.test(path) || /\.test\.tsx?$/.test(path)) return [];
    const text = readFileSync(path, "utf8");
    const calls = [...text.matchAll(/import \{([^}]*)\} from "~\/server\/([^"]+)"/g)].flatMap(
      ([, names = "", from = ""]) =>
        names
          .split(",")
          .map((name) => name.trim())
          .filter((name) => name !== "" && !name.startsWith("type "))
          .map((name) => `${from}#${name}`),
    );
    return [{ file: path.replaceAll("\\", "/"), text, calls }];
  });
}
const all = sources("app");
/** What looks after the rights themselves, and so asks before it knows. */
const keepers = ["app/account.server.ts", "app/study-access.server.ts"];

describe("every function of the server that a page calls", () => {
  it("stands in the table with what is needed for it, and nothing else does", () => {
    const called = new Set(all.flatMap(({ calls }) => calls).filter((call) => !harmless.has(call)));
    expect([...called].filter((call) => needs[call] === undefined)).toEqual([]);
    expect(Object.keys(needs).filter((call) => !called.has(call))).toEqual([]);
  });

  it("is called only where one of the rights it needs is asked for", () => {
    const asked = (text: string) =>
      rights.filter(
        (right) => text.includes(`"${right}"`) || (right === "start-sessions" && text.includes("requireLaboratory(")),
      );
    const wrong = all
      .filter(({ file }) => !keepers.includes(file))
      .flatMap(({ file, text, calls }) => {
        // A module that only gathers what a route sends is looked at where its rights are asked for.
        const own = file.endsWith("collecting.server.ts") ? (["see-sessions"] as Right[]) : asked(text);
        return calls.flatMap((call) => {
          const needed = needs[call];
          return !Array.isArray(needed) || (needed as Right[]).some((right) => own.includes(right))
            ? []
            : [`${file}: ${call}`];
        });
      });
    expect(wrong).toEqual([]);
  });

  it("of administrators, of accounts and of laboratories is called where those are asked for", () => {
    const asks: Partial<Record<string, RegExp>> = {
      administrators: /isAdmin|deed\(true/,
      "owner of the account": /requireAccount|deed\(true/,
      "signed in": /requireAccount|accountOf|requireStudy|requireStanding|requireLaboratory/,
      laboratory: /requireLaboratory|computerOf/,
    };
    const wrong = all
      .filter(({ file }) => !keepers.includes(file) && !file.endsWith("team-deeds.server.ts"))
      .flatMap(({ file, text, calls }) =>
        calls.flatMap((call) => {
          const needed = needs[call];
          const asking = typeof needed === "string" ? asks[needed] : undefined;
          return asking === undefined || asking.test(text) ? [] : [`${file}: ${call}`];
        }),
      );
    expect(wrong).toEqual([]);
  });
});

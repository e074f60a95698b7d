import { facts, words } from "../facts";
import { fillScreen } from "../interruptions";
import { ask, make, pressed, quietButton, say } from "./page";
import { playTones } from "../stage/audio";

/** What was given on the entry page: the participant's code, or that for going on with a session begun elsewhere. */
export type Entered = { code: string | null; goOn: string | null };

/** The entry page: the study's own words, a code where one is wanted, whom to contact. */
export async function showEntry(into: HTMLElement, hasCode: boolean): Promise<Entered> {
  const { title, welcome, contact, ownCode, elsewhere } = facts();
  const page = make("div", "page entry");
  page.append(make("h1", "", title));
  for (const line of welcome.split("\n").filter((each) => each.trim())) page.append(make("p", "", line));
  const wantsCode = ownCode !== "none" && !hasCode;
  const field = make("input", "");
  const problem = make("p", "problem");
  problem.setAttribute("role", "alert");
  if (wantsCode) {
    const label = make("label", "", words(ownCode === "must" ? "yourCode" : "yourCodeOptional"));
    Object.assign(field, { maxLength: 60, autocomplete: "off", spellcheck: false });
    label.append(field);
    page.append(label, problem);
  }
  const contactLine = contactOf(contact);
  if (contactLine) page.append(contactLine);
  into.replaceChildren(page);
  for (;;) {
    const press = await pressed(page, [words("start"), ...(elsewhere ? [words("goOnElsewhere")] : [])]);
    if (press === 1) {
      const goOn = await askGoOn(into, null);
      await fillScreen();
      return { code: null, goOn };
    }
    const code = field.value.trim();
    if (!wantsCode || code !== "" || ownCode === "may") {
      await fillScreen();
      return { code: code || null, goOn: null };
    }
    problem.textContent = words("codeMissing");
    page.querySelector(".buttons")?.remove();
    field.focus();
  }
}

/** Asks for the code with which a session goes on that was begun elsewhere; `why` says why, where that is to be said. */
export const askGoOn = (into: HTMLElement, why: string | null): Promise<string> =>
  askText(into, why, words("goOnCode"), 20);

/** Asks for the word the link wants to be told. */
export const askWord = (into: HTMLElement, why: string | null): Promise<string> =>
  askText(into, why, words("theWord"), 60);

async function askText(into: HTMLElement, why: string | null, says: string, most: number): Promise<string> {
  const page = say(into, why === null ? [] : [why], facts().title);
  const field = make("input", "");
  Object.assign(field, { maxLength: most, autocomplete: "off", spellcheck: false });
  const label = make("label", "", says);
  label.append(field);
  page.append(label);
  for (;;) {
    const press = pressed(page, [words("goOn")]);
    field.focus();
    await press;
    if (field.value.trim() !== "") return field.value.trim();
    page.querySelector(".buttons")?.remove();
  }
}

/** Shows the code with which this session can go on at another computer, until it was read. */
export async function showGoOn(into: HTMLElement, code: string): Promise<void> {
  const page = say(into, [words("goOnCodeIs")]);
  // A key that was still to come, as of the check before, must not pass over it.
  const on = quietButton(words("goOn"));
  page.append(make("output", "code", code), on);
  await new Promise((resolve) => on.addEventListener("click", resolve, { once: true }));
  into.replaceChildren();
}

function contactOf(contact: string): HTMLElement | null {
  if (contact.trim() === "") return null;
  const line = make("p", "contact");
  line.append(make("b", "", words("questions")), ` ${contact}`);
  return line;
}

type Check = { says: () => string; passed: (into: HTMLElement) => Promise<void> };

/** What the study wants looked at before anything is loaded, in order. */
function checks(): Check[] {
  const { checks: wanted, fullScreen } = facts();
  const { smallest } = wanted;
  const all: (Check | false | undefined)[] = [
    fullScreen && { says: () => words("noFullScreen"), passed: fullScreenPossible },
    smallest && { says: () => windowSentence(smallest), passed: (into) => largeEnough(into, smallest) },
    wanted.keyboard && { says: () => words("checkKeyboard"), passed: keyPressed },
    wanted.sound && { says: () => words("checkSound"), passed: tonesCounted },
  ];
  return all.filter((each): each is Check => typeof each === "object");
}

/** What the checks say while they are not passed. */
export const checksInWords = (): string[] => checks().map(({ says }) => says());

/** Settled when all that the study wants looked at is so. */
export async function passChecks(into: HTMLElement): Promise<void> {
  for (const { passed } of checks()) await passed(into);
}

async function fullScreenPossible(into: HTMLElement): Promise<void> {
  if (document.fullscreenEnabled) return;
  say(into, [words("noFullScreen")]);
  await new Promise(() => undefined);
}

type Size = { width: number; height: number };
const windowSentence = (smallest: Size) =>
  words("checkWindow", { ...smallest, widthNow: innerWidth, heightNow: innerHeight });

async function largeEnough(into: HTMLElement, smallest: Size): Promise<void> {
  while (innerWidth < smallest.width || innerHeight < smallest.height) {
    say(into, [windowSentence(smallest)]);
    await new Promise((resolve) => addEventListener("resize", resolve, { once: true }));
  }
}

function keyPressed(into: HTMLElement): Promise<void> {
  say(into, [words("checkKeyboard")]);
  return new Promise((resolve) => {
    const down = (event: KeyboardEvent) => {
      if (event.key !== " ") return;
      event.preventDefault();
      removeEventListener("keydown", down);
      resolve();
    };
    addEventListener("keydown", down);
  });
}

/** Two to five tones, as many as chance says anew in each try, so that they have to be heard. */
async function tonesCounted(into: HTMLElement): Promise<void> {
  const choices = [2, 3, 4, 5];
  for (let said = words("checkSound"); ; said = words("notThatMany")) {
    await ask(into, [said], [words("playTones")]);
    const count = choices[Math.floor(Math.random() * choices.length)] ?? 3;
    await playTones(count);
    const answer = await ask(into, [words("howMany")], choices.map(String));
    if (choices[answer] === count) return;
  }
}

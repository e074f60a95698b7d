import { facts, words } from "../facts";
import { ask, say } from "./page";
import { playTones } from "../stage/tones";

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
export const windowSentence = (smallest: Size) =>
  words("checkWindow", { ...smallest, widthNow: innerWidth, heightNow: innerHeight });

export async function largeEnough(into: HTMLElement, smallest: Size): Promise<void> {
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

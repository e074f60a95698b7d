import { facts, words } from "../facts";
import { fillScreen } from "../interruptions";
import { make, pressed, quietButton, say } from "./page";

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

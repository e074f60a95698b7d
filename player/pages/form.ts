import { isQuestion, isSet } from "~/core/design/questions";
import type { Page, Piece } from "~/core/design/page";
import type { PlannedForm } from "~/core/compile/forms";
import type { Problem } from "~/core/questions/kind";
import type { Entry } from "~/core/questions/entry";
import { isRevised, linesOf, problemWith } from "~/core/questions/entry";
import type { Question } from "~/core/questions/registry";
import type { FormLine } from "~/core/run/form";
import type { Context } from "~/core/values/context";
import type { Id } from "~/core/values/ref";
import { familiesOf } from "~/core/values/fonts";
import { resolve } from "~/core/values/resolve";
import { usesIn } from "~/core/values/uses";
import { words } from "../facts";
import type { DrawnQuestion } from "../questions/drawer";
import { drawQuestion } from "../questions/drawers";
import { setAll } from "../questions/elements";
import { drawFormattedText } from "../stage/formatted-text";
import { saveCopy } from "./copy";
import { make, quietButton, shareBar, type Share } from "./page";
import { drawPassage } from "./passages";
import { PageTimer } from "./page-timer";

export type Trouble = { question: Id; problem: Problem };

/** What a page is played by: the machine, or what stands in for it while a study is designed. */
export type FormHost = {
  page: Page;
  form: PlannedForm;
  stands: () => { lines: FormLine[]; context: Context };
  answer: (entry: Entry) => void;
  /** Tells that something was asked for again. */
  remind: () => void;
  /** Tries to go on: what keeps the page, or null where it was left. */
  goOn: () => Trouble[] | null;
  /** Goes to the page before; null where there is no way back. */
  back: (() => void) | null;
  timeUp: () => void;
  /** Milliseconds from the session's start. */
  now: () => number;
  /** When the page came on. */
  shownAt: number;
  mediaUrl: (id: Id) => string | null;
  /** Whether the page may take the focus as it comes: not from whoever types elsewhere while it is designed. */
  takesFocus: () => boolean;
  /** Null for no bar. */
  share: Share | null;
};

type Asked = {
  question: Question;
  element: HTMLElement;
  drawn: DrawnQuestion;
  problem: HTMLElement;
  ratherNot: HTMLInputElement | null;
  entry: Entry;
  /** The answer when it was last left alone. */
  settled: unknown;
};
/** What comes together where one question comes after the other. */
type StepOfPage = { elements: HTMLElement[]; asked: Asked | null };

/** A page of a study as participants fill it in; `left` is settled when it is over. */
export function showForm(into: HTMLElement, host: FormHost): { left: Promise<void>; stop: () => void } {
  const { page } = host;
  const element = make("div", "page form");
  element.tabIndex = -1;
  const { context, lines } = host.stands();
  if (page.font !== undefined)
    element.style.fontFamily = familiesOf(String(resolve(page.font, context) ?? ""), context.study.media);
  const entries = new Map(lines.map(({ question, entry }) => [question.id, entry]));
  const texts: { draw: (context: Context) => void }[] = [];
  const asked = new Map<Id, Asked>();
  const steps: StepOfPage[] = [];
  let waiting: HTMLElement[] = [];
  const place = (question: Question) => {
    const one = draw(question);
    asked.set(question.id, one);
    steps.push({ elements: [...waiting, one.element], asked: one });
    waiting = [];
  };
  for (const piece of page.flow) {
    if (isQuestion(piece)) place(piece);
    else if (isSet(piece)) for (const id of host.form.sets[piece.id] ?? []) placeFrom(piece, id);
    else if (piece.kind === "rule" && page.shows === "one") {
      // Where one thing comes after the other, a line between begins the next.
      if (waiting.length > 0) steps.push({ elements: waiting, asked: null });
      waiting = [];
    } else waiting.push(passage(piece));
  }
  const last = steps.at(-1);
  if (last && last.asked !== null) last.elements.push(...waiting);
  else if (waiting.length > 0 || !last) steps.push({ elements: waiting, asked: null });
  const isOne = page.shows === "one" && steps.length > 1;
  element.append(...steps.flatMap(({ elements }) => elements));

  const note = setAll(make("p", "problem look-again"), { role: "alert" });
  note.hidden = true;
  const buttons = make("div", "buttons");
  const forward = make("button", "", page.continueLabel);
  const backward = make("button", "second back", words("back"));
  for (const button of [forward, backward]) button.type = "button";
  buttons.append(forward);
  const count = make("p", "number count");
  element.append(note, buttons);
  if (page.copy === true) {
    const keep = quietButton(words("keepCopy"));
    keep.addEventListener("click", () => saveCopy(steps.flatMap(({ elements }) => elements.map(copied))));
    element.append(keep);
  }
  if (isOne && asked.size > 0) element.prepend(count);

  let leave: () => void = () => undefined;
  const left = new Promise<void>((resolve) => (leave = resolve));
  const timer = new PageTimer(page.time, host.shownAt, host.now, {
    onUp: () => {
      host.timeUp();
      over();
    },
    onLeast: (isWaiting) => (forward.disabled = isWaiting),
  });
  const over = () => {
    timer.stop();
    leave();
  };

  /** The step on show where one question comes after the other. */
  let at = 0;
  const shownSteps = () => steps.filter(({ asked: one }) => one === null || !one.element.hidden);

  forward.addEventListener("click", () => {
    if (isOne) {
      const here = shownSteps();
      const one = here[at]?.asked;
      const problem = one ? problemWith(one.question, one.entry, reminded.has(one.question.id)) : null;
      if (one && problem) return askAgain([{ question: one.question.id, problem }], true);
      if (at < here.length - 1) return toStep(at + 1);
    }
    const troubles = host.goOn();
    if (troubles === null) return over();
    askAgain(troubles, false);
  });
  backward.addEventListener("click", () => {
    if (isOne && at > 0) return toStep(at - 1);
    host.back?.();
    over();
  });
  const reminded = new Set<Id>();

  into.replaceChildren(element);
  if (host.share !== null) into.append(shareBar(host.share));
  element.append(...timer.elements);
  refresh();
  toStep(0, false);
  // A page to read is gone on from at once; one that asks begins with its first question.
  if (host.takesFocus()) {
    (asked.size === 0 ? forward : element).focus({ preventScroll: true });
    scrollTo({ top: 0 });
  }
  timer.start();
  return { left, stop: () => timer.stop() };

  function placeFrom(set: Extract<Piece, { kind: "set" }>, id: Id) {
    const question = set.questions.find((each) => each.id === id);
    if (question) place(question);
  }

  /** An element of the page as it stands in a copy: a question as it is asked, with its answer. */
  function copied(each: HTMLElement): HTMLElement | null {
    if (each.hidden) return null;
    const one = [...asked.values()].find(({ element: section }) => section === each);
    if (!one) return each;
    const { question, entry } = one;
    const said = one.element.querySelector(".asks")?.textContent || ("label" in question ? question.label : "");
    const answers = entry.ratherNot ? [words("ratherNot")] : linesOf(question, entry.value);
    const whole = make("section", "");
    // What is agreed to is ticked.
    const lines = answers.map((answer) => make("p", "", answer === said ? "✓" : answer || "–"));
    whole.append(make("h3", "", said), ...lines);
    return whole;
  }

  function passage(piece: Exclude<Piece, Question | { kind: "set" }>): HTMLElement {
    const drawn = drawPassage(piece, { context, mediaUrl: host.mediaUrl });
    if (piece.kind === "text" && isOfAnswers(piece.text))
      texts.push({ draw: (now) => drawFormattedText(drawn, piece.text, now) });
    return drawn;
  }

  function draw(question: Question): Asked {
    const name = `q-${question.id}`;
    const section = setAll(make("section", "question"), { "data-question": question.name });
    const title = setAll(make("div", "asks"), { id: `${name}-asks` });
    drawFormattedText(title, question.text, context);
    if (isOfAnswers(question.text)) texts.push({ draw: (now) => drawFormattedText(title, question.text, now) });
    const explanation = setAll(make("p", "explanation", question.explanation), { id: `${name}-explains` });
    const problem = setAll(make("p", "problem"), { id: `${name}-problem` });
    problem.hidden = true;
    const entry = entries.get(question.id) as Entry;
    const drawn = drawQuestion({
      question: question as never,
      order: host.form.orders[question.id] ?? null,
      value: entry.value as never,
      typed: entry.typed ?? "",
      labelledBy: `${name}-asks`,
      describedBy: `${name}-explains ${name}-problem`,
      answer: (value, typed = "") => take(one, value, typed),
      mediaUrl: host.mediaUrl,
      groupName: name,
    });
    let ratherNot: HTMLInputElement | null = null;
    section.append(title, ...(question.explanation === "" ? [] : [explanation]), drawn.element);
    if (question.ratherNot) {
      const label = make("label", "choice rather-not");
      ratherNot = make("input", "");
      Object.assign(ratherNot, { type: "checkbox", checked: entry.ratherNot });
      label.append(ratherNot, make("span", "says", words("ratherNot")));
      section.append(label);
      ratherNot.addEventListener("change", () => {
        const isOn = ratherNot?.checked === true;
        if (isOn) drawn.clear();
        touched(one, { ...one.entry, value: isOn ? null : one.entry.value, ratherNot: isOn }, "");
      });
    }
    section.append(problem);
    const one: Asked = { question, element: section, drawn, problem, ratherNot, entry, settled: entry.value };
    section.addEventListener("change", () => settle(one));
    section.addEventListener("focusout", ({ relatedTarget }) => {
      if (relatedTarget instanceof Node && section.contains(relatedTarget)) return;
      settle(one);
      // What is there is looked at when the question is left; what is missing, only when one goes on.
      if (one.entry.value !== null || one.entry.typed) tellProblem(one, problemWith(question, one.entry, true));
    });
    return one;
  }

  function take(one: Asked, value: unknown, typed: string) {
    if (one.ratherNot && (value !== null || typed !== "")) one.ratherNot.checked = false;
    touched(one, { ...one.entry, value, ratherNot: one.ratherNot?.checked === true }, value === null ? typed : "");
  }

  function touched(one: Asked, entry: Entry, typed: string) {
    const now = host.now();
    one.entry = { ...entry, first: entry.first ?? now, last: now };
    if (typed === "") delete one.entry.typed;
    else one.entry.typed = typed;
    host.answer(one.entry);
    refresh();
    if (!one.problem.hidden && problemWith(one.question, one.entry, true) === null) tellProblem(one, null);
  }

  function settle(one: Asked) {
    if (isRevised(one.settled, one.entry.value)) {
      one.entry = { ...one.entry, changes: one.entry.changes + 1 };
      host.answer(one.entry);
    }
    one.settled = one.entry.value;
  }

  /** Shows and hides what hangs on answers, and puts their present values into the texts. */
  function refresh() {
    const { lines: now, context: present } = host.stands();
    for (const { question, isShown } of now) {
      const one = asked.get(question.id);
      if (one) one.element.hidden = !isShown;
    }
    for (const text of texts) text.draw(present);
    if (isOne) showStep();
    else offerBack(host.back !== null);
  }

  function offerBack(isOffered: boolean) {
    if (!isOffered) backward.remove();
    else if (!backward.isConnected) buttons.append(backward);
  }

  function showStep() {
    const here = shownSteps();
    at = Math.min(at, here.length - 1);
    for (const step of steps) for (const each of step.elements) each.classList.toggle("elsewhere", step !== here[at]);
    const questions = here.filter(({ asked: one }) => one !== null);
    const number = questions.indexOf(here[at] as StepOfPage) + 1;
    count.textContent = number > 0 ? words("questionOf", { number, all: questions.length }) : "";
    forward.textContent = at < here.length - 1 ? words("goOn") : page.continueLabel;
    offerBack(at > 0 || host.back !== null);
  }

  function toStep(step: number, hasFocus = true) {
    if (!isOne) return;
    at = step;
    note.hidden = true;
    showStep();
    scrollTo({ top: 0 });
    if (hasFocus) (shownSteps()[at]?.asked?.drawn ?? forward).focus();
  }

  function askAgain(troubles: Trouble[], isStep: boolean) {
    host.remind();
    for (const one of asked.values())
      tellProblem(one, troubles.find(({ question }) => question === one.question.id)?.problem ?? null);
    for (const { question } of troubles) reminded.add(question);
    const first = asked.get(troubles[0]?.question ?? "");
    note.textContent = words("lookAgain", { count: troubles.length });
    note.hidden = isStep || troubles.length === 0;
    if (!first) return;
    if (isOne)
      toStep(
        Math.max(
          0,
          shownSteps().findIndex(({ asked: one }) => one === first),
        ),
        false,
      );
    note.hidden = isStep;
    first.element.scrollIntoView({ block: "center" });
    first.drawn.focus();
  }
}

const isOfAnswers = (text: unknown): boolean => usesIn(text).some(({ ref }) => "question" in ref || "score" in ref);

function tellProblem({ element, problem }: Asked, told: Problem | null) {
  problem.hidden = told === null;
  problem.textContent = told === null ? "" : words(told.words, told.values);
  element.classList.toggle("wrong", told !== null);
  for (const field of element.querySelectorAll("input[type=text], input[type=date], input[type=time], textarea"))
    field.setAttribute("aria-invalid", String(told !== null));
}

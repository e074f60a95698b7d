import { blockOf } from "~/core/design/lookup";
import { questionsInOrder } from "~/core/design/questions";
import type { Page } from "~/core/design/page";
import type { StudyDocument } from "~/core/design/document";
import { givenAnswers } from "~/core/describe/given-answers";
import { mediaKind } from "~/core/media/types";
import type { SessionRecord } from "~/core/records/record";
import type { PlayedBy } from "~/core/run/follower";
import { formIn, pageIn, plannedPage } from "~/core/run/form";
import { Shown, type Moment } from "~/core/run/shown";
import type { InPage } from "~/core/run/state";
import type { Id } from "~/core/values/ref";
import { addFont } from "./fonts";
import { showBreak } from "./pages/break";
import { showForm } from "./pages/form";
import { loadDrawers } from "./questions/drawers";
import { pixelsPerUnit } from "./stage/context";
import "./stage/drawers-all";
import { drawerOf } from "./stage/drawers";
import { units } from "./stage/item-drawer";
import { buildScene, setWaiting } from "./stage/scene-layer";
import { makeStage } from "./stage/stage";

/** A session to be looked at: the study it was played by, who played it, and what was recorded. */
export type ShownSession = {
  document: StudyDocument;
  whose: PlayedBy;
  records: SessionRecord[];
  /** Where media lie, by id. */
  media: Record<Id, string>;
};

/** A point that was pressed is marked for so many ms. */
const markedMs = 400;

/**
 * Draws what a participant saw into the page, at any time of the session: gives what goes to a time, in ms from the session's
 * start. Scenes and pages are drawn by what draws them for participants; sounds are not heard.
 */
export async function showSession(into: HTMLElement, stage: HTMLElement, session: ShownSession) {
  const { document: study, whose, records, media } = session;
  const mediaUrl = (id: Id) => media[id] ?? null;
  await Promise.all([
    loadDrawers(questionsInOrder(study).map(({ question }) => question.kind)),
    ...study.media
      .filter(({ mime }) => mediaKind(mime) === "font")
      .map((file) => addFont(file, `url("${media[file.id]}")`).catch(() => undefined)),
  ]);
  const shown = new Shown(study, whose, records);
  const pressed = givenAnswers(study, records).flatMap(({ at, point }) => (point ? [{ at, point }] : []));
  const root = makeStage(stage, study.settings.stageColor);
  const mark = document.createElement("div");
  mark.style.cssText = `position: absolute; translate: -50% -50%; width: ${units(4)}; height: ${units(4)}; border: ${units(0.5)} solid #b3261e; border-radius: 50%; outline: ${units(0.3)} solid #ffffff`;
  let drawn: Moment | null = null;
  /** What changes within a scene. */
  let inTime: (at: number) => void = () => undefined;

  /** Draws a scene in the state in which it was, and gives what moves it through time. */
  function drawScene(moment: Moment, part: Id, sceneId: Id, onset: number): (at: number) => void {
    const scene = blockOf(study, part).scenes.find(({ id }) => id === sceneId);
    const record = records[moment.record];
    if (!scene || !record || !("observed" in record)) return () => undefined;
    const drawing = {
      context: shown.machine.context(shown.stateAt(moment)),
      mediaUrl,
      pixelsPerUnit: pixelsPerUnit(stage.clientWidth, stage.clientHeight),
    };
    const layer = buildScene(document, scene, drawing);
    layer.show(true);
    root.replaceChildren(layer.element, mark);
    const seen = (item: Id, what: "began" | "ended") =>
      record.observed.find((each) => each.item === item && each.what === what && each.at >= onset - 1)?.at;
    const parts = scene.items.map((item) => {
      const element = layer.items.get(item.id) as HTMLElement;
      const from = item.begins === undefined ? onset : (seen(item.id, "began") ?? Infinity);
      const to = item.ends === undefined ? Infinity : (seen(item.id, "ended") ?? Infinity);
      const { still } = drawerOf(item);
      return (at: number) => {
        const isOn = at >= from && at < to;
        setWaiting(element, !isOn);
        if (isOn) still?.(element, item, drawing, at - from);
      };
    });
    return (at) => {
      for (const each of parts) each(at);
      const press = pressed.findLast((each) => each.at <= at && at < each.at + markedMs);
      mark.hidden = press === undefined;
      if (!press) return;
      mark.style.left = `calc(50% + ${units(press.point.x)})`;
      mark.style.top = `calc(50% - ${units(press.point.y)})`;
    };
  }

  function drawPage(moment: Moment) {
    const state = shown.stateAt(moment);
    const phase = state.phase as InPage;
    const { course } = shown.machine;
    // Where one question came after the other, all are shown: which one was on is not recorded. No time runs out.
    const page: Page = { ...pageIn(course, plannedPage(course, phase)), shows: "all" };
    delete page.time;
    showForm(into, {
      page,
      form: plannedPage(course, phase).form,
      stands: () => formIn(course, state, phase),
      answer: () => undefined,
      remind: () => undefined,
      goOn: () => null,
      back: null,
      timeUp: () => undefined,
      now: () => moment.at,
      shownAt: phase.shown ?? moment.at,
      mediaUrl,
      takesFocus: () => false,
      share: null,
    });
  }

  function draw(moment: Moment) {
    const { seen } = moment;
    stage.hidden = seen.kind !== "scene";
    inTime = () => undefined;
    if (seen.kind === "scene") {
      into.replaceChildren();
      inTime = drawScene(moment, seen.part, seen.scene, seen.onset);
    } else if (seen.kind === "page") drawPage(moment);
    else if (seen.kind === "break") {
      const { breaks } = blockOf(study, seen.part);
      const context = shown.machine.context(shown.stateAt(moment));
      if (breaks) void showBreak(into, { ...breaks, leastSeconds: 0 }, context, null, () => moment.at);
    } else into.replaceChildren();
  }

  return (at: number): void => {
    const moment = shown.moments[shown.at(at)] as Moment;
    if (moment !== drawn) draw((drawn = moment));
    inTime(at);
    // For whoever waits for it.
    stage.dataset.at = String(Math.round(at));
  };
}

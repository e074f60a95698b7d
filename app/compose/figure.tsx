import { useMemo, useState, type ClipboardEvent, type KeyboardEvent } from "react";
import { useWidth } from "~/app/components/use-width";
import { useStudy } from "~/app/editing/use-study";
import { answerInWords, conditionInWords, durationInWords, refName } from "~/core/describe/words";
import { keyLabel } from "~/core/devices/keys/keys";
import { packed } from "~/core/design/edits/carry";
import { moveScene } from "~/core/design/edits/scenes";
import { isBinding } from "~/core/values/ref";
import type { AnswerSpec } from "~/core/design/answer";
import type { Block } from "~/core/design/block";
import type { Scene } from "~/core/design/scene";
import { usesIn } from "~/core/values/uses";
import { resolve } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import type { MediaUrl } from "~/player/stage/context";
import { Chip } from "./chip";
import { figureLayout, type FigureLayout } from "./figure-layout";
import { Miniature } from "./miniature";
import { usePaste } from "./use-paste";

type Props = { block: Block; context: Context; mediaUrl: MediaUrl; height: number };

/** Figure 1: the trial as papers draw it, its scenes stepping down a diagonal, each a true miniature of the stage. */
export function Figure({ block, context, mediaUrl, height }: Props) {
  const { code, document, view, look, edit } = useStudy();
  const paste = usePaste(block);
  const [box, width] = useWidth(980);
  const [dragged, setDragged] = useState<string | null>(null);
  const layout = useMemo(() => figureLayout(block, { width, height }), [block, width, height]);
  const { selected } = view;
  const chosen = selected.kind === "scene" || selected.kind === "item" ? selected.scene : null;
  const open = (scene: string) => look({ opened: scene, selected: { kind: "scene", scene } });
  const keys = (event: KeyboardEvent, scene: Scene, index: number) => {
    const by =
      event.key === "ArrowDown" || event.key === "ArrowRight"
        ? 1
        : event.key === "ArrowUp" || event.key === "ArrowLeft"
          ? -1
          : 0;
    if (event.key === "Enter") open(scene.id);
    else if (by !== 0 && event.ctrlKey) edit(moveScene(block.id, scene.id, index + by));
    else if (by !== 0) {
      const next = block.scenes[index + by];
      if (next) {
        look({ selected: { kind: "scene", scene: next.id } });
        box.current?.querySelector<HTMLElement>(`[data-scene-id="${next.id}"]`)?.focus();
      }
    } else return;
    event.preventDefault();
  };
  const copy = (event: ClipboardEvent) => {
    const scene = block.scenes.find(({ id }) => id === chosen);
    if (!scene) return;
    event.clipboardData.setData("text/plain", JSON.stringify(packed(document, code, block, scene.items, scene)));
    event.preventDefault();
  };
  const { scene: size, spots } = layout;

  return (
    <div
      ref={box}
      className="relative overflow-auto"
      style={{ height }}
      aria-label="Figure 1: scenes of the trial"
      role="group"
      onClick={({ target }) => {
        if (!(target as Element).closest("button")) look({ selected: { kind: "nothing" } });
      }}
      onCopy={copy}
      onPaste={(event) => {
        void paste(event.clipboardData.getData("text/plain"), chosen);
        event.preventDefault();
      }}
    >
      <div className="relative" style={{ width: layout.width, height: layout.height }}>
        <TimeArrow height={layout.height} />
        {block.scenes.map((scene, index) => {
          const spot = spots[index] ?? { x: 0, y: 0 };
          const isChosen = chosen === scene.id;
          return (
            <div key={scene.id}>
              <button
                type="button"
                aria-pressed={isChosen}
                aria-label={`Scene ${index + 1}, ${scene.name}, ${durationInWords(scene.lasts, document, block)}`}
                title="Enter or double-click opens it; drag it, or press Ctrl and an arrow key, to move it"
                data-scene-button={scene.name}
                data-scene-id={scene.id}
                draggable
                onDragStart={(event) => {
                  event.dataTransfer.effectAllowed = "move";
                  setDragged(scene.id);
                }}
                onDragOver={(event) => {
                  if (dragged) event.preventDefault();
                }}
                onDrop={(event) => {
                  event.preventDefault();
                  if (dragged && dragged !== scene.id) edit(moveScene(block.id, dragged, index));
                  setDragged(null);
                }}
                onDragEnd={() => setDragged(null)}
                onClick={() => look({ selected: { kind: "scene", scene: scene.id } })}
                onDoubleClick={() => open(scene.id)}
                onKeyDown={(event) => keys(event, scene, index)}
                className={`absolute overflow-hidden !rounded-none outline ${isChosen ? "outline-2 outline-plumage" : "outline-1 outline-muted/60"} ${dragged === scene.id ? "opacity-50" : ""}`}
                style={{ left: spot.x, top: spot.y, width: size.wide, height: size.high, zIndex: index + 1 }}
              >
                <Miniature
                  scene={scene}
                  context={context}
                  mediaUrl={mediaUrl}
                  color={document.settings.stageColor}
                  width={size.wide}
                  height={size.high}
                />
              </button>
              <SceneWords scene={scene} block={block} left={spot.x + size.wide + 12} top={spot.y + 2} />
            </div>
          );
        })}
        <svg
          aria-hidden="true"
          width={layout.width}
          height={layout.height}
          className="pointer-events-none absolute inset-0"
          style={{ zIndex: 0 }}
        >
          {layout.windows.map(({ answer, path }) => (
            <path
              key={answer.id}
              d={path}
              fill="none"
              stroke="var(--chestnut)"
              strokeWidth={selected.kind === "answer" && selected.answer === answer.id ? 3 : 1.8}
            />
          ))}
        </svg>
        {layout.windows.map((window) => (
          <AnswerLabel key={window.answer.id} block={block} window={window} context={context} width={layout.width} />
        ))}
        {block.scenes.length === 0 && (
          <p className="absolute left-[118px] top-10 text-muted">
            No scenes yet. Choose “Scene” above to add the first.
          </p>
        )}
      </div>
    </div>
  );
}

const TimeArrow = ({ height }: { height: number }) => (
  <svg aria-hidden="true" width={40} height={height} className="absolute left-0 top-0 text-muted">
    <path d={`M14 18V${height - 16}`} stroke="currentColor" strokeWidth={1.2} opacity={0.6} />
    <path d={`M10 ${height - 20}h8l-4 7z`} fill="currentColor" opacity={0.6} />
    <text transform={`translate(28 ${height - 20}) rotate(-90)`} className="fill-current font-serif text-[15px] italic">
      time
    </text>
  </svg>
);

/** A scene's name, duration and condition beside it, and the names of the table that change what it shows. */
function SceneWords({ scene, block, left, top }: { scene: Scene; block: Block; left: number; top: number }) {
  const { document } = useStudy();
  const changing = [
    ...new Set(
      usesIn(scene.items).flatMap(({ ref }) => ("column" in ref ? (refName(ref, document, block) ?? []) : [])),
    ),
  ];
  return (
    <div className="absolute whitespace-nowrap text-sm leading-[17px]" style={{ left, top }}>
      <div className="font-bold">
        {scene.name}
        {changing.length > 0 && (
          <span
            className="ml-1.5 rounded-[4px] bg-sheen-tint px-1 font-mono text-2xs font-normal text-sheen"
            title={`What it shows changes by row: ${changing.join(", ")}`}
          >
            {changing.length > 2 ? `${changing.slice(0, 2).join(", ")} +${changing.length - 2}` : changing.join(", ")}
          </span>
        )}
      </div>
      <div className="font-mono text-xs text-muted">{durationInWords(scene.lasts, document, block)}</div>
      {scene.when && (
        <span className="rounded-md bg-sheen-tint px-1.5 text-2xs text-sheen">
          {conditionInWords(scene.when, document, block).replace(/^(?!(not )?in practice)/, "if ")}
        </span>
      )}
    </div>
  );
}

/** What counts as an answer, below the line that marks its window. */
function AnswerLabel({
  block,
  window: { answer, label },
  context,
  width,
}: {
  block: Block;
  window: FigureLayout["windows"][number];
  context: Context;
  width: number;
}) {
  const { look, view } = useStudy();
  return (
    <button
      type="button"
      aria-pressed={view.selected.kind === "answer" && view.selected.answer === answer.id}
      onClick={() => look({ selected: { kind: "answer", answer: answer.id } })}
      className="absolute grid justify-items-end gap-0.5 text-right text-sm leading-[17px]"
      style={{ right: width - label.right, top: label.top, zIndex: 20 }}
    >
      <span className="font-semibold text-chestnut">
        {block.answers.length > 1 ? answer.name : "answer"}: {answerInWords(answer, block, context)}
      </span>
      <RightAnswer answer={answer} block={block} context={context} />
    </button>
  );
}

function RightAnswer({ answer, block, context }: { answer: AnswerSpec; block: Block; context: Context }) {
  const { document } = useStudy();
  if (answer.right === undefined) return null;
  const right = String(resolve(answer.right, context) ?? "");
  const name = isBinding(answer.right) ? refName(answer.right.from, document, block) : null;
  return (
    <>
      <span className="text-xs text-muted">right when it equals</span>
      {isBinding(answer.right) ? (
        <Chip gone={name === null}>
          {name ?? "gone"} → {right ? keyLabel(right) : "empty"}
        </Chip>
      ) : (
        <span className="font-mono text-xs">{keyLabel(right)}</span>
      )}
    </>
  );
}

import { useEffect, useRef, useState } from "react";
import { useStudy } from "~/app/editing/use-study";
import { resolve, type Context } from "~/core/run/resolve";
import { isBinding, type AnswerSpec, type Block } from "~/core/design/types";
import type { MediaUrl } from "~/player/stage/context";
import { Chip } from "./chip";
import { Miniature } from "./miniature";
import { answerInWords, conditionInWords, durationInWords, keyLabel, refName } from "~/core/describe/words";

const [wide, high] = [170, 106];
const [left, top] = [118, 8];
/** Room for the longest duration beside the last scene, in pixels. */
const labelWidth = 240;
type Spot = { x: number; y: number };

/** Figure 1: the trial as papers draw it, its scenes stepping down a diagonal, each a true miniature of the stage. */
export function Figure({
  block,
  context,
  mediaUrl,
  height,
}: {
  block: Block;
  context: Context;
  mediaUrl: MediaUrl;
  height: number;
}) {
  const { document, view, look } = useStudy();
  const open = (scene: string) => look({ opened: scene, selected: { kind: "scene", scene } });
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(980);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const steps = Math.max(1, block.scenes.length - 1);
  const dx = Math.max(86, Math.min(150, (width - left - wide - labelWidth) / steps));
  const dy = Math.min(58, (height - high - top - 10) / steps);
  const spots = block.scenes.map((_, index): Spot => ({ x: left + index * dx, y: top + index * dy }));
  const fullWidth = Math.max(width, left + steps * dx + wide + labelWidth);
  const { selected } = view;
  const chosen = selected.kind === "scene" || selected.kind === "item" ? selected.scene : null;

  return (
    <div
      ref={box}
      className="relative overflow-x-auto overflow-y-hidden"
      style={{ height }}
      aria-label="Figure 1: scenes of the trial"
      role="group"
    >
      <div className="relative" style={{ width: fullWidth, height }}>
        <svg aria-hidden="true" width={40} height={height} className="absolute left-0 top-0 text-muted">
          <path d={`M14 ${top + 10}V${height - 16}`} stroke="currentColor" strokeWidth={1.2} opacity={0.6} />
          <path d={`M10 ${height - 20}h8l-4 7z`} fill="currentColor" opacity={0.6} />
          <text
            transform={`translate(28 ${height - 20}) rotate(-90)`}
            className="fill-current font-serif text-[15px] italic"
          >
            time
          </text>
        </svg>
        {block.scenes.map((scene, index) => {
          const spot = spots[index] as Spot;
          const isChosen = chosen === scene.id;
          return (
            <div key={scene.id}>
              <button
                type="button"
                aria-pressed={isChosen}
                aria-label={`Scene ${index + 1}, ${scene.name}, ${durationInWords(scene.lasts, document, block)}`}
                data-scene-button={scene.name}
                onClick={() => look({ selected: { kind: "scene", scene: scene.id } })}
                onDoubleClick={() => open(scene.id)}
                onKeyDown={(event) => {
                  if (event.key !== "Enter") return;
                  event.preventDefault();
                  open(scene.id);
                }}
                className={`absolute overflow-hidden !rounded-none ${isChosen ? "outline-2 outline-plumage" : "outline-1 outline-muted/60"} outline`}
                style={{ left: spot.x, top: spot.y, width: wide, height: high, zIndex: index + 1 }}
              >
                <Miniature
                  scene={scene}
                  context={context}
                  mediaUrl={mediaUrl}
                  color={document.settings.stageColor}
                  width={wide}
                  height={high}
                />
              </button>
              <div
                className="absolute whitespace-nowrap text-sm leading-[17px]"
                style={{ left: spot.x + wide + 12, top: spot.y + 2 }}
              >
                <div className="font-bold">{scene.name}</div>
                <div className="font-mono text-xs text-muted">{durationInWords(scene.lasts, document, block)}</div>
                {(scene.when ?? (block.practice && index === block.scenes.length - 1)) && (
                  <span className="rounded-md bg-sheen-tint px-1.5 text-2xs text-sheen">
                    {scene.when ? `if ${conditionInWords(scene.when, document, block)}` : "in practice"}
                  </span>
                )}
              </div>
            </div>
          );
        })}
        {block.answers.map((answer) => (
          <AnswerWindow
            key={answer.id}
            block={block}
            answer={answer}
            spots={spots}
            context={context}
            width={fullWidth}
            height={height}
          />
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

type WindowProps = { block: Block; answer: AnswerSpec; spots: Spot[]; context: Context; width: number; height: number };

/** The answer window: a stair along the lower left edge of the scenes it covers, and what counts as an answer. */
function AnswerWindow({ block, answer, spots, context, width, height }: WindowProps) {
  const { document, view, look } = useStudy();
  const [opens, closes] = [answer.opensWith, answer.closesWith].map((id) =>
    block.scenes.findIndex((scene) => scene.id === id),
  ) as [number, number];
  const first = spots[opens];
  if (!first || closes < opens) return null;
  let path = `M${first.x} ${first.y}h-7V${first.y + high + 7}`;
  for (let index = opens + 1; index <= closes; index++) {
    const spot = spots[index];
    if (spot) path += `H${spot.x - 7}V${spot.y + high + 7}`;
  }
  const last = spots[closes] as Spot;
  path += `H${last.x + (closes + 1 < spots.length ? 138 : wide)}v-6`;
  const right = answer.right === undefined ? null : String(resolve(answer.right, context) ?? "");
  const chosen = view.selected.kind === "answer";
  return (
    <>
      <svg
        aria-hidden="true"
        width={width}
        height={height}
        className="pointer-events-none absolute inset-0"
        style={{ zIndex: 0 }}
      >
        <path d={path} fill="none" stroke="var(--chestnut)" strokeWidth={chosen ? 3 : 1.8} />
      </svg>
      <button
        type="button"
        aria-pressed={chosen}
        onClick={() => look({ selected: { kind: "answer", answer: answer.id } })}
        className="absolute grid justify-items-end gap-0.5 text-right text-sm leading-[17px]"
        style={{
          right: width - Math.max(150, closes > opens ? (spots[opens + 1]?.x ?? 0) - 17 : first.x + 120),
          top: Math.min(first.y + high + 13, height - 56),
          zIndex: 20,
        }}
      >
        <span className="font-semibold text-chestnut">
          {block.answers.length > 1 ? answer.name : "answer"}: {answerInWords(answer, block, context)}
        </span>
        {answer.right !== undefined && (
          <>
            <span className="text-xs text-muted">right when it equals</span>
            {isBinding(answer.right) ? (
              <Chip gone={refName(answer.right.from, document, block) === null}>
                {refName(answer.right.from, document, block) ?? "gone"} → {right ? keyLabel(right) : "empty"}
              </Chip>
            ) : (
              <span className="font-mono text-xs">{keyLabel(right ?? "")}</span>
            )}
          </>
        )}
      </button>
    </>
  );
}

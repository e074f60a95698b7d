import { ArrowLeft, Ellipsis } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import type { Alignment } from "~/core/design/arrange";
import type { Block } from "~/core/design/block";
import type { Scene } from "~/core/design/scene";
import type { MediaUrl } from "~/player/stage/context";
import { AddItems } from "../add-item";
import { Miniature } from "../miniature";
import type { ShownTrial } from "../shown-trial";
import { shortDuration } from "~/core/describe/words";
import { boxesOf } from "./boxes";
import { screens } from "./screens";
import { StageCanvas } from "./stage-canvas";
import { useArranging, type Arranging } from "./use-arranging";

type Props = { block: Block; scene: Scene; shown: ShownTrial; mediaUrl: MediaUrl; row: string | null };

/** A scene enlarged to the stage: its items can be placed by mouse and keys; the other scenes stand beside it. */
export function OpenedStage({ block, scene, shown, mediaUrl, row }: Props) {
  const { document: study, look, view } = useStudy();
  const arranging = useArranging(block, scene, row);
  const area = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 776, height: 470 });
  useEffect(() => {
    const observer = new ResizeObserver(
      ([entry]) => entry && setRoom({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    if (area.current) observer.observe(area.current);
    area.current?.querySelector<HTMLElement>("[role=application]")?.focus({ preventScroll: true });
    return () => observer.disconnect();
  }, [scene.id]);
  const aspect = screens[view.screen];
  const height = Math.floor(Math.min(room.height, room.width / aspect));
  const width = Math.floor(height * aspect);
  const leave = () => look({ opened: null, selected: { kind: "scene", scene: scene.id } });
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-11 shrink-0 items-center gap-3 px-4">
        <Button icon={ArrowLeft} onClick={leave}>
          Figure 1
        </Button>
        <h1 className="caption min-w-0 truncate" data-figure-caption>
          <b>{scene.name}</b>{" "}
          <em>
            row {shown.rowNumber ?? "–"}
            {shown.levels && `: ${shown.levels}`} · {shown.inWords.toLowerCase()}
          </em>
        </h1>
        <span className="ml-auto flex shrink-0 items-center">
          <AddItems block={block} scene={scene} />
          <ArrangeMenu arranging={arranging} scene={scene} shown={shown} />
        </span>
      </div>
      <div className="flex min-h-0 flex-1 gap-7 px-4 pb-5">
        <nav aria-label="Scenes" className="flex w-[126px] shrink-0 flex-col gap-2.5 overflow-y-auto p-px">
          {block.scenes.map((each) => (
            <button
              key={each.id}
              type="button"
              aria-current={each.id === scene.id ? "true" : undefined}
              onClick={() => look({ opened: each.id, selected: { kind: "scene", scene: each.id } })}
              className={`shrink-0 rounded-md border bg-sheet p-1 text-left ${each.id === scene.id ? "border-plumage outline-1 outline-plumage outline" : "border-hairline"}`}
            >
              <Miniature
                scene={each}
                context={shown.context}
                mediaUrl={mediaUrl}
                color={study.settings.stageColor}
                width={114}
                height={71}
              />
              <span className="flex items-baseline justify-between gap-1 px-0.5 pt-1 text-xs">
                <b className="truncate">{each.name}</b>
                <span className="whitespace-nowrap font-mono text-2xs text-muted">
                  {shortDuration(each.lasts, shown.context)}
                </span>
              </span>
            </button>
          ))}
        </nav>
        <div ref={area} className="min-w-0 flex-1">
          <StageCanvas
            // On whole pixels, so that its pixels are those of the player.
            left={Math.floor((room.width - width) / 2)}
            top={Math.floor((room.height - height) / 2)}
            block={block}
            scene={scene}
            context={shown.context}
            mediaUrl={mediaUrl}
            arranging={arranging}
            aspect={aspect}
            width={width}
            height={height}
            rings={view.rings}
            onLeave={leave}
          />
        </div>
      </div>
    </div>
  );
}

const alignments: [Alignment, string][] = [
  ["left", "left edges"],
  ["centre", "centres, one above the other"],
  ["right", "right edges"],
  ["top", "top edges"],
  ["middle", "centres, side by side"],
  ["bottom", "bottom edges"],
];

function ArrangeMenu({ arranging, scene, shown }: { arranging: Arranging; scene: Scene; shown: ShownTrial }) {
  const boxes = boxesOf(scene, shown.context, new Map());
  const { chosen } = arranging;
  return (
    <Menu align="end" trigger={<IconButton icon={Ellipsis} label="Arrange the selected items" />}>
      <MenuLabel>{chosen.length === 0 ? "Select items first" : "Layers and copies"}</MenuLabel>
      {chosen.length > 0 && (
        <>
          <MenuItem onSelect={() => arranging.layer("front")}>To the front (F)</MenuItem>
          <MenuItem onSelect={() => arranging.layer("forward")}>One step forward (+)</MenuItem>
          <MenuItem onSelect={() => arranging.layer("back")}>One step back (−)</MenuItem>
          <MenuItem onSelect={() => arranging.layer("bottom")}>To the back (B)</MenuItem>
          <MenuItem onSelect={arranging.duplicate}>Duplicate (D)</MenuItem>
          <MenuItem onSelect={arranging.lock}>Lock or unlock (L)</MenuItem>
          <MenuItem alarm onSelect={arranging.remove}>
            Remove (Delete)
          </MenuItem>
        </>
      )}
      {chosen.length > 1 && (
        <>
          <MenuLabel>Align</MenuLabel>
          {alignments.map(([to, words]) => (
            <MenuItem key={to} onSelect={() => void arranging.align(boxes, to)}>
              {words}
            </MenuItem>
          ))}
        </>
      )}
      {chosen.length > 2 && (
        <>
          <MenuLabel>Distribute</MenuLabel>
          <MenuItem onSelect={() => void arranging.distribute(boxes, "x")}>equal gaps across</MenuItem>
          <MenuItem onSelect={() => void arranging.distribute(boxes, "y")}>equal gaps upright</MenuItem>
        </>
      )}
    </Menu>
  );
}

import { useEffect, useRef } from "react";
import type { Scene } from "~/core/design/scene";
import type { Context } from "~/core/values/context";
import { pixelsPerUnit, type MediaUrl } from "~/player/stage/context";
import "~/player/stage/drawers-all";
import { buildScene } from "~/player/stage/scene-layer";
import { makeStage } from "~/player/stage/stage";

type Props = { scene: Scene; context: Context; mediaUrl: MediaUrl; color: string; width: number; height: number };

/** A scene as participants see it, drawn by the player's own code at this size in pixels. */
export function Miniature({ scene, context, mediaUrl, color, width, height }: Props) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!host.current) return;
    const root = makeStage(host.current, color);
    const layer = buildScene(document, scene, { context, mediaUrl, pixelsPerUnit: pixelsPerUnit(width, height) });
    layer.show(true);
    root.replaceChildren(layer.element);
  }, [scene, context, mediaUrl, color, width, height]);
  return <div ref={host} aria-hidden="true" style={{ width, height }} />;
}

import { useMemo } from "react";
import { Miniature } from "~/app/compose/miniature";
import { blockSource, shownTrial } from "~/app/compose/shown-trial";
import { useInBrowser } from "~/app/components/use-in-browser";
import { useWidth } from "~/app/components/use-width";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { blocksInOrder } from "~/core/design/lookup";

/** The stage as the participant will see it, in the trial that is chosen on the ribbon. */
export function NextTrial() {
  const { code, document, view } = useStudy();
  const inBrowser = useInBrowser();
  const blocks = blocksInOrder(document);
  const block = blocks.find(({ id }) => id === view.part) ?? blocks[0];
  const mediaUrl = useMemo(() => mediaUrlIn(code, document), [code, document]);
  const shown = useMemo(
    () => (block ? shownTrial(blockSource(document, block, view.participant), view.trial, null) : null),
    [document, block, view.participant, view.trial],
  );
  const scene = block?.scenes.find(({ id }) => id === block.answers[0]?.opensWith) ?? block?.scenes[0];
  const [box, width] = useWidth(607);
  if (!block || !scene || !shown)
    return <p className="mt-3 text-muted">The study has no trials. Its pages can be played.</p>;
  return (
    <div ref={box} className="mt-3">
      <div className="outline-1 outline-muted/60 outline" style={{ height: width * 0.625 }}>
        {inBrowser && (
          <Miniature
            scene={scene}
            context={shown.context}
            mediaUrl={mediaUrl}
            color={document.settings.stageColor}
            width={width}
            height={width * 0.625}
          />
        )}
      </div>
      <p className="mt-2 flex items-center gap-2 text-sm text-muted">
        <span className="rounded-md bg-chestnut-tint px-1.5 font-mono text-xs leading-5 text-chestnut">pilot data</span>
        {shown.inWords} · {block.name} · {scene.name}
        {shown.levels && ` · ${shown.levels}`}
      </p>
    </div>
  );
}

import { ClipboardCopy, Download } from "lucide-react";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { Button } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { download } from "~/app/components/download";
import { Dialog } from "~/app/components/dialog";
import { useStudy } from "~/app/editing/use-study";
import { figureCaption } from "~/core/describe/caption";
import type { Block } from "~/core/design/block";
import type { Context } from "~/core/values/context";
import type { MediaUrl } from "~/player/stage/context";
import { svgAsPng } from "~/app/components/svg-as-png";
import { figureSvg } from "./figure-file";

/** Figure 1 with its caption, as files for a paper. */
export function PaperDialog({
  block,
  context,
  mediaUrl,
  open,
  onOpenChange,
}: {
  block: Block;
  context: Context;
  mediaUrl: MediaUrl;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const { code, document } = useStudy();
  const [svg, setSvg] = useState<string | null>(null);
  const caption = figureCaption(document, block, context);
  useEffect(() => {
    if (!open) return;
    let isCurrent = true;
    setSvg(null);
    figureSvg(document, block, context, mediaUrl, caption).then(
      (made) => isCurrent && setSvg(made),
      () => toast.error("The figure could not be drawn. Look for missing media, then try again."),
    );
    return () => {
      isCurrent = false;
    };
  }, [open, document, block, context, mediaUrl, caption]);
  const name = `${code}-figure-1`;
  const copy = async () => {
    if (!svg) return;
    try {
      await navigator.clipboard.write([new ClipboardItem({ "image/png": svgAsPng(svg) })]);
      toast("The figure is on the clipboard.");
    } catch {
      toast.error("This browser does not allow figures on the clipboard. Save it as PNG instead.");
    }
  };
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={onOpenChange}
      title="For the paper"
      description="The trial that is shown, on white, with its caption from the design."
    >
      <div className="grid min-h-52 place-items-center border border-hairline bg-white p-2">
        {svg ? (
          <img
            src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`}
            alt={`Figure 1. ${caption}`}
            className="max-h-[48vh] max-w-full"
          />
        ) : (
          <p className="text-[#55635e]">Drawing…</p>
        )}
      </div>
      <div className="flex items-center gap-2">
        <Button
          icon={Download}
          look="primary"
          disabled={!svg}
          onClick={() => svg && void svgAsPng(svg).then((png) => download(png, `${name}.png`))}
        >
          PNG, 300 dpi
        </Button>
        <Button
          icon={Download}
          disabled={!svg}
          onClick={() => svg && download(new Blob([svg], { type: "image/svg+xml" }), `${name}.svg`)}
        >
          SVG
        </Button>
        <Button icon={ClipboardCopy} disabled={!svg} onClick={() => void copy()}>
          Copy the figure
        </Button>
        <Button
          icon={ClipboardCopy}
          look="quiet"
          onClick={() =>
            copyText(
              `Figure 1. ${caption}`,
              "The caption is on the clipboard.",
              "This browser does not allow the caption on the clipboard. It stands under the figure in Compose.",
            )
          }
        >
          Copy the caption
        </Button>
      </div>
    </Dialog>
  );
}

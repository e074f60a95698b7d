import { Play } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Choice } from "~/app/components/fields";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { mediaKind, type MediaKind } from "~/core/media/types";
import type { Id } from "~/core/values/ref";
import { AddFile } from "./add-file";

/** Chooses one of the study's media files of a kind, or adds a new one from this computer. */
export function MediaPicker({ kind, value, onChange }: { kind: MediaKind; value: Id; onChange: (file: Id) => void }) {
  const { code, document } = useStudy();
  const url = mediaUrlIn(code, document)(value);
  const files = document.media.filter(({ mime }) => mediaKind(mime) === kind);
  const known = files.some(({ id }) => id === value);
  const options = [
    ...(known ? [] : [[value, value ? `missing: ${value}` : `choose a ${kind}`] as const]),
    ...files.map(({ id, name }) => [id, name] as const),
  ];
  return (
    <>
      {known && url && kind === "picture" && <img src={url} alt="" className="h-7 w-8 shrink-0 object-contain" />}
      <Choice
        label={kind.replace(/^./, (letter) => letter.toUpperCase())}
        value={value}
        options={options}
        onChange={onChange}
      />
      {known && url && kind === "sound" && (
        <IconButton icon={Play} label="Listen to it" onClick={() => void new Audio(url).play()} />
      )}
      <AddFile kind={kind} onAdded={onChange} />
    </>
  );
}

import { FileUp, Play } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import { IconButton } from "~/app/components/button";
import { Choice } from "~/app/components/fields";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { addMedia } from "~/core/design/edits/media";
import { mediaKind, type MediaKind } from "~/core/media/types";
import type { Id } from "~/core/values/ref";
import { acceptedFiles, uploadMedia } from "./upload";

/** Chooses one of the study's media files of a kind, or adds a new one from this computer. */
export function MediaPicker({ kind, value, onChange }: { kind: MediaKind; value: Id; onChange: (file: Id) => void }) {
  const { code, document, edit } = useStudy();
  const picker = useRef<HTMLInputElement>(null);
  const url = mediaUrlIn(code, document)(value);
  const add = async (file: File | undefined) => {
    if (!file) return;
    const sent = await uploadMedia(code, file);
    if (!sent.ok) return void toast.error(sent.reason);
    if (mediaKind(sent.file.mime) !== kind)
      return void toast.error(`${file.name} is a ${mediaKind(sent.file.mime)}; a ${kind} is needed here.`);
    const there = document.media.find(({ sha256 }) => sha256 === sent.file.sha256);
    if (!there) edit(addMedia(sent.file));
    onChange(there?.id ?? sent.file.id);
  };
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
      <input
        ref={picker}
        type="file"
        accept={acceptedFiles[kind]}
        aria-label={`${kind} file`}
        tabIndex={-1}
        className="sr-only"
        onChange={(event) => {
          void add(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <IconButton icon={FileUp} label={`Add a ${kind} from this computer`} onClick={() => picker.current?.click()} />
    </>
  );
}

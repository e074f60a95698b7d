import { FileUp } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import { IconButton } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { addMedia } from "~/core/design/edits/media";
import { mediaKind, type MediaKind } from "~/core/media/types";
import type { Id } from "~/core/values/ref";
import { acceptedFiles, uploadMedia } from "./upload";

/** A button that adds a media file of a kind from this computer; one that the study has already is taken as it is. */
export function AddFile({ kind, onAdded }: { kind: MediaKind; onAdded: (file: Id) => void }) {
  const { code, document, edit } = useStudy();
  const picker = useRef<HTMLInputElement>(null);
  const add = async (file: File | undefined) => {
    if (!file) return;
    const sent = await uploadMedia(code, file);
    if (!sent.ok) return void toast.error(sent.reason);
    if (mediaKind(sent.file.mime) !== kind)
      return void toast.error(`${file.name} is a ${mediaKind(sent.file.mime)}; a ${kind} is needed here.`);
    const there = document.media.find(({ sha256 }) => sha256 === sent.file.sha256);
    if (!there) edit(addMedia(sent.file));
    onAdded(there?.id ?? sent.file.id);
  };
  return (
    <>
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

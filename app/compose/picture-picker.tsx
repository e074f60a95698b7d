import { ImageUp } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import { IconButton } from "~/app/components/button";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { addMedia } from "~/core/design/edits/study";
import type { Id, MediaFile } from "~/core/design/types";
import { Choice } from "./property";

/** Chooses one of the study's pictures, or adds a new one from this computer. */
export function PicturePicker({ value, onChange }: { value: Id; onChange: (picture: Id) => void }) {
  const { code, document, edit } = useStudy();
  const picker = useRef<HTMLInputElement>(null);
  const url = mediaUrlIn(code, document)(value);
  const add = async (file: File | undefined) => {
    if (!file) return;
    const body = new FormData();
    body.set("picture", file);
    try {
      const response = await fetch(`/studies/${code}/pictures`, { method: "POST", body });
      const answer = (await response.json()) as MediaFile & { reason?: string };
      if (!response.ok) return void toast.error(answer.reason ?? "The picture was refused.");
      const there = document.media.find(({ sha256 }) => sha256 === answer.sha256);
      if (!there) edit(addMedia(answer));
      onChange(there?.id ?? answer.id);
    } catch {
      toast.error("The server cannot be reached, so the picture was not added. Try again.");
    }
  };
  const known = document.media.some(({ id }) => id === value);
  const options = [
    ...(known ? [] : [[value, value ? `missing: ${value}` : "choose a picture"] as const]),
    ...document.media.map(({ id, name }) => [id, name] as const),
  ];
  return (
    <>
      {url && <img src={url} alt="" className="h-7 w-8 shrink-0 object-contain" />}
      <Choice label="Picture" value={value} options={options} onChange={onChange} />
      <input
        ref={picker}
        type="file"
        accept="image/png,image/jpeg,image/webp,image/svg+xml"
        aria-label="Picture file"
        tabIndex={-1}
        className="sr-only"
        onChange={(event) => {
          void add(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <IconButton icon={ImageUp} label="Add a picture from this computer" onClick={() => picker.current?.click()} />
    </>
  );
}

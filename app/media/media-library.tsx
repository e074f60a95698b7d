import { AudioWaveform, FileCode2, FileUp, Film, RefreshCw, Replace, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { Button, IconButton } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { Dialog } from "~/app/components/dialog";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { addMedia, removeMedia, renameMedia, replaceMedia } from "~/core/design/edits/media";
import { together } from "~/core/design/edits/edit";
import { mostMediaBytes } from "~/core/media/types";
import { mediaKind } from "~/core/media/types";
import { usesOfMedia } from "~/core/design/uses-of-media";
import type { Id } from "~/core/values/ref";
import { familyOfFile } from "~/core/values/fonts";
import type { MediaFile } from "~/core/values/study-values";
import { acceptedFiles, anyMedia } from "./upload";
import { useUploads } from "./use-uploads";

/** All media of a study: added, viewed, renamed, replaced everywhere, removed. */
export function MediaLibrary({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { code, document, edit } = useStudy();
  const { uploads, add, again } = useUploads(code);
  const picker = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<Id | null>(null);
  const [onlyUnused, setOnlyUnused] = useState(false);
  const take = async (files: File[]) => {
    const arrived = await add(files);
    edit(together(...arrived.map(addMedia)));
  };
  const uses = new Map(document.media.map(({ id }) => [id, usesOfMedia(document, id)]));
  const unused = document.media.filter(({ id }) => uses.get(id)?.length === 0);
  const shown = onlyUnused ? unused : document.media;
  const file = document.media.find(({ id }) => id === chosen);
  const waiting = uploads.filter(({ state }) => state === "sending");
  const refused = uploads.filter(({ state }) => state === "refused");
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={onOpenChange}
      title="Media"
      description={`Pictures, sounds, videos and pages of this study. A file's type is read from its content; at most ${mostMediaBytes / 1024 / 1024} MB a file.`}
    >
      <div
        className="grid min-h-[340px] grid-cols-[1fr_270px] gap-5"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          void take([...event.dataTransfer.files]);
        }}
      >
        <div className="grid content-start gap-3">
          <div className="flex items-center gap-3">
            <Button icon={FileUp} look="primary" onClick={() => picker.current?.click()}>
              Add files
            </Button>
            <span className="text-sm text-muted">or drop them here</span>
            <input
              ref={picker}
              type="file"
              multiple
              accept={anyMedia}
              aria-label="Media files"
              tabIndex={-1}
              className="sr-only"
              onChange={(event) => {
                void take([...(event.target.files ?? [])]);
                event.target.value = "";
              }}
            />
            {unused.length > 0 && (
              <Tick className="ml-auto" checked={onlyUnused} onChange={setOnlyUnused}>
                only the {unused.length} not used
              </Tick>
            )}
          </div>
          {waiting.length > 0 && (
            <progress
              className="w-full"
              aria-label={`Sending ${waiting.length} files`}
              max={uploads.length}
              value={uploads.reduce((sum, { share }) => sum + share, 0)}
            />
          )}
          {refused.map((each) => (
            <p key={each.key} className="flex items-center gap-2 text-sm text-alarm">
              {each.reason}
              <Button
                icon={RefreshCw}
                look="quiet"
                onClick={() => void again(each).then((sent) => sent && edit(addMedia(sent)))}
              >
                Send again
              </Button>
            </p>
          ))}
          {document.media.length === 0 && waiting.length === 0 && (
            <p className="text-muted">
              No media yet. Add pictures, sounds or videos here, then choose them in an item or a column.
            </p>
          )}
          <ul
            aria-label="Media of the study"
            className="grid max-h-[48vh] grid-cols-[repeat(auto-fill,minmax(112px,1fr))] gap-2 overflow-y-auto p-px"
          >
            {shown.map((each) => (
              <li key={each.id}>
                <button
                  type="button"
                  aria-pressed={each.id === chosen}
                  onClick={() => setChosen(each.id)}
                  className={`grid w-full gap-1 rounded-md border p-1.5 ${each.id === chosen ? "border-plumage bg-plumage-tint" : "border-hairline hover:bg-plumage-tint"}`}
                >
                  <span className="grid h-[72px] place-items-center overflow-hidden">
                    <Preview file={each} url={mediaUrlIn(code, document)(each.id) ?? ""} />
                  </span>
                  <span className="truncate text-xs">{each.name}</span>
                  {uses.get(each.id)?.length === 0 && <span className="text-2xs text-chestnut">not used</span>}
                </button>
              </li>
            ))}
          </ul>
        </div>
        {file ? (
          <Details key={file.id} file={file} uses={uses.get(file.id) ?? []} onGone={() => setChosen(null)} />
        ) : (
          <p className="text-sm text-muted">Choose a file to see where it is used, rename or replace it.</p>
        )}
      </div>
    </Dialog>
  );
}

function Preview({ file, url }: { file: MediaFile; url: string }) {
  const kind = mediaKind(file.mime);
  if (kind === "picture")
    return <img src={url} alt="" loading="lazy" className="max-h-[72px] max-w-full object-contain" />;
  if (kind === "font") return <FontSample file={file} className="text-[34px]" />;
  const Icon = kind === "sound" ? AudioWaveform : kind === "video" ? Film : FileCode2;
  return <Icon size={28} aria-hidden="true" className="text-muted" />;
}

/** Letters in an uploaded font. */
const FontSample = ({ file, className }: { file: MediaFile; className: string }) => (
  <span aria-hidden="true" className={`leading-none ${className}`} style={{ fontFamily: `"${familyOfFile(file)}"` }}>
    Aa
  </span>
);

function Details({ file, uses, onGone }: { file: MediaFile; uses: string[]; onGone: () => void }) {
  const { code, document, edit } = useStudy();
  const { add } = useUploads(code);
  const picker = useRef<HTMLInputElement>(null);
  const [isRemoving, setIsRemoving] = useState(false);
  const url = mediaUrlIn(code, document)(file.id) ?? "";
  const kind = mediaKind(file.mime);
  const replace = async (source: File | undefined) => {
    if (!source) return;
    const [sent] = await add([source]);
    if (!sent) return void toast.error(`${source.name} was not taken. Look at the reason under Add files.`);
    if (mediaKind(sent.mime) !== kind)
      return void toast.error(`${source.name} is a ${mediaKind(sent.mime)}; a ${kind} is needed in its place.`);
    if (document.media.some(({ sha256 }) => sha256 === sent.sha256))
      return void toast.error(`${source.name} is already among the media. Choose it where it should appear.`);
    edit(replaceMedia(file.id, sent));
    toast(`${sent.name} now replaces ${file.name} everywhere.`);
  };
  const measures = [
    file.mime,
    file.width && file.height ? `${file.width} × ${file.height} px` : null,
    file.ms ? `${(file.ms / 1000).toFixed(2)} s` : null,
    file.bytes > 100_000 ? `${(file.bytes / 1024 / 1024).toFixed(1)} MB` : `${(file.bytes / 1024).toFixed(1)} kB`,
  ].filter(Boolean);
  return (
    <div className="grid content-start gap-3">
      <div className="grid min-h-28 place-items-center border border-hairline bg-paper p-2">
        {kind === "picture" && <img src={url} alt="" className="max-h-40 max-w-full object-contain" />}
        {kind === "sound" && <audio controls src={url} className="w-full" />}
        {kind === "video" && <video controls src={url} className="max-h-40 max-w-full" />}
        {kind === "font" && <FontSample file={file} className="text-[44px]" />}
        {kind === "page" && <FileCode2 size={32} aria-hidden="true" className="text-muted" />}
      </div>
      <label className="grid gap-1 text-sm">
        <span className="font-semibold">Name</span>
        <input
          className="field font-mono !text-xs"
          defaultValue={file.name}
          maxLength={200}
          onChange={({ target }) => target.value.trim() && edit(renameMedia(file.id, target.value), `media ${file.id}`)}
        />
      </label>
      <p className="font-mono text-xs text-muted">{measures.join(" · ")}</p>
      <div>
        <h3 className="text-sm font-semibold">Used in</h3>
        {uses.length === 0 ? (
          <p className="text-sm text-muted">Nothing yet.</p>
        ) : (
          <ul className="max-h-28 list-disc overflow-y-auto pl-4 text-sm">
            {uses.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        )}
      </div>
      <div className="flex gap-2">
        <Button icon={Replace} onClick={() => picker.current?.click()}>
          Replace everywhere
        </Button>
        <IconButton
          icon={Trash2}
          label={`Remove ${file.name} from the study`}
          onClick={() => {
            if (uses.length > 0) return setIsRemoving(true);
            edit(removeMedia(file.id));
            onGone();
          }}
        />
        <input
          ref={picker}
          type="file"
          accept={acceptedFiles[kind]}
          aria-label={`Replacement for ${file.name}`}
          tabIndex={-1}
          className="sr-only"
          onChange={(event) => {
            void replace(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </div>
      {isRemoving && (
        <div role="alert" className="grid gap-2 rounded-md bg-alarm-tint p-2 text-sm">
          It is used in {uses.length} {uses.length === 1 ? "place" : "places"}, which would show nothing.
          <span className="flex gap-2">
            <Button
              look="alarm"
              onClick={() => {
                edit(removeMedia(file.id));
                onGone();
              }}
            >
              Remove it anyway
            </Button>
            <Button onClick={() => setIsRemoving(false)}>Keep it</Button>
          </span>
        </div>
      )}
    </div>
  );
}

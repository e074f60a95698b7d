import { useRef, useState } from "react";
import type { MediaFile } from "~/core/values/study-values";
import { uploadMedia } from "./upload";

export type Upload = {
  key: number;
  name: string;
  source: File;
  state: "sending" | "done" | "refused";
  share: number;
  file: MediaFile | null;
  reason: string | null;
};

/** Files on their way to the study's media: several at once, each with its progress; one that failed can be sent again. */
export function useUploads(code: string) {
  const [uploads, setUploads] = useState<Upload[]>([]);
  const next = useRef(0);
  const change = (key: number, to: Partial<Upload>) =>
    setUploads((all) => all.map((each) => (each.key === key ? { ...each, ...to } : each)));
  const send = async ({ key, source }: Pick<Upload, "key" | "source">): Promise<MediaFile | null> => {
    change(key, { state: "sending", reason: null, share: 0 });
    const sent = await uploadMedia(code, source, (share) => change(key, { share }));
    change(key, sent.ok ? { state: "done", share: 1, file: sent.file } : { state: "refused", reason: sent.reason });
    return sent.ok ? sent.file : null;
  };
  /** Sends files, three at a time; settled with those that arrived, in the order given. */
  const add = async (files: File[]): Promise<MediaFile[]> => {
    const fresh = files.map((source) => ({ key: next.current++, source }));
    setUploads((all) => [
      ...all,
      ...fresh.map(({ key, source }): Upload => ({
        key,
        source,
        name: source.name,
        state: "sending",
        share: 0,
        file: null,
        reason: null,
      })),
    ]);
    const arrived = new Map<number, MediaFile>();
    const queue = [...fresh];
    const work = async () => {
      for (let each = queue.shift(); each; each = queue.shift()) {
        const file = await send(each);
        if (file) arrived.set(each.key, file);
      }
    };
    await Promise.all([work(), work(), work()]);
    return fresh.flatMap(({ key }) => arrived.get(key) ?? []);
  };
  return { uploads, add, again: send, clear: () => setUploads([]) };
}

import { useEffect, useRef, useState } from "react";
import type { Ribbon } from "~/core/compile/ribbon";
import type { StudyDocument } from "~/core/design/types";
import type { RibbonQuestion, RibbonReply } from "~/workers/ribbon";

/** The ribbon for what is being edited, worked out in a web worker; the one before stays until the next is there. */
export function useRibbon(
  document: StudyDocument,
  participant: number,
  color: string | null,
  height: string | null,
): Ribbon | null {
  const [ribbon, setRibbon] = useState<Ribbon | null>(null);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  useEffect(() => {
    const made = new Worker(new URL("../../workers/ribbon.ts", import.meta.url), { type: "module" });
    made.onmessage = ({ data }: MessageEvent<RibbonReply>) => {
      if (data.id === asked.current) setRibbon(data.ribbon);
    };
    worker.current = made;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    const question: RibbonQuestion = { id: ++asked.current, document, participant, color, height };
    worker.current?.postMessage(question);
  }, [document, participant, color, height]);
  return ribbon;
}

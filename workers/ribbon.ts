import { ribbonFor, type Ribbon } from "~/core/compile/ribbon";
import type { StudyDocument } from "~/core/design/types";

export type RibbonQuestion = {
  id: number;
  document: StudyDocument;
  participant: number;
  color: string | null;
  height: string | null;
};
export type RibbonReply = { id: number; ribbon: Ribbon };

addEventListener("message", ({ data }: MessageEvent<RibbonQuestion>) => {
  const reply: RibbonReply = {
    id: data.id,
    ribbon: ribbonFor(data.document, data.participant, data.color, data.height),
  };
  postMessage(reply);
});

import { toast } from "sonner";
import { uploadMedia } from "~/app/media/upload";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { carriedFrom, unpacked } from "~/core/design/edits/carry";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";

/** Pastes what was copied in this or another study into a block, with its media; false for any other text. */
export function usePaste(block: Block): (text: string, scene: Id | null) => Promise<boolean> {
  const { code, document, edit, look, view } = useStudy();
  return async (text, scene) => {
    const carried = carriedFrom(text);
    if (!carried) return false;
    if (!carried.scene && scene === null) {
      toast("Choose a scene first: the items go into it.");
      return true;
    }
    const missing = carried.media.filter(({ sha256 }) => !document.media.some((each) => each.sha256 === sha256));
    for (const { sha256, name, mime } of carried.study === code ? [] : missing) {
      const response = await fetch(`/studies/${carried.study}/media/${sha256}`).catch(() => null);
      const bytes = response?.ok ? await response.blob() : null;
      const sent = bytes && (await uploadMedia(code, new File([bytes], name, { type: mime })));
      if (!sent?.ok) toast.error(`${name} could not be brought along from ${carried.study}. Add it in Media.`);
    }
    const put = unpacked(document, block, scene, carried, newId);
    edit(put.edit);
    const [item, ...also] = put.items;
    if (carried.scene && put.scene)
      look({ selected: { kind: "scene", scene: put.scene }, ...(view.opened ? { opened: put.scene } : {}) });
    else if (item && scene) look({ selected: { kind: "item", scene, item, also } });
    return true;
  };
}

import { toast } from "sonner";
import { uploadMedia } from "~/app/media/upload";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import type { RulePlace } from "~/core/design/all-rules";
import { carriedRulesFrom, unpackedRules } from "~/core/design/edits/carry-rules";

/** Pastes rules that were copied in this or another study into a place, with what they refer to. */
export function usePasteRules(place: RulePlace): (text: string) => Promise<void> {
  const { code, document, edit, look } = useStudy();
  return async (text) => {
    const carried = carriedRulesFrom(text);
    if (!carried) {
      toast("There is no rule in the clipboard. Copy one in its margin first.");
      return;
    }
    const missing = carried.media.filter(({ sha256 }) => !document.media.some((each) => each.sha256 === sha256));
    for (const { sha256, name, mime } of carried.study === code ? [] : missing) {
      const response = await fetch(`/studies/${carried.study}/media/${sha256}`).catch(() => null);
      const bytes = response?.ok ? await response.blob() : null;
      const sent = bytes && (await uploadMedia(code, new File([bytes], name, { type: mime })));
      if (!sent?.ok) toast.error(`${name} could not be brought along from ${carried.study}. Add it in Media.`);
    }
    const put = unpackedRules(document, place, carried, newId);
    edit(put.edit);
    const [rule] = put.rules;
    if (rule) look({ selected: { kind: "rule", rule } });
  };
}

import { useState } from "react";
import { useStudy } from "~/app/editing/use-study";
import { setWording } from "~/core/design/edits/study";
import { wordingNames, type WordingName } from "~/core/wording/names";
import { directionOf, wordingFor } from "~/core/wording/wording";

/** Every text of participants' pages as shipped in the study's language, each of which the study can say in its own words. */
export function WordingTable() {
  const { document, edit } = useStudy();
  const [sought, seek] = useState("");
  const { language, settings } = document;
  const { wording } = settings.participation;
  const shipped = wordingFor(language);
  const plain = sought.trim().toLowerCase();
  const shown = (Object.keys(wordingNames) as WordingName[]).filter((name) =>
    [wordingNames[name], shipped[name], wording[name] ?? ""].some((text) => text.toLowerCase().includes(plain)),
  );
  const own = Object.keys(wording).length;
  return (
    <details className="border-t border-hairline pt-3" open={own > 0}>
      <summary className="cursor-pointer text-sm font-semibold text-plumage">
        Wording of these pages{own > 0 && `: ${own} of the study’s own`}
      </summary>
      <input
        type="search"
        aria-label="Search in the wording"
        placeholder="Search"
        className="field mt-2 !w-64"
        value={sought}
        onChange={({ target }) => seek(target.value)}
      />
      <ul className="mt-2 grid max-h-[300px] gap-2 overflow-auto pr-2" dir={directionOf(language)} lang={language}>
        {shown.map((name) => (
          <li key={name} className="grid gap-0.5">
            <span className="text-xs text-muted" dir="ltr" lang="en">
              {wordingNames[name]}
            </span>
            <textarea
              aria-label={`Wording: ${wordingNames[name]}`}
              rows={Math.min(3, Math.ceil((wording[name] ?? shipped[name]).length / 100))}
              maxLength={2000}
              className={`field !h-auto resize-none py-1 ${wording[name] === undefined ? "" : "!border-plumage"}`}
              placeholder={shipped[name]}
              value={wording[name] ?? ""}
              onChange={({ target }) => edit(setWording(name, target.value), `wording ${name}`)}
            />
          </li>
        ))}
        {shown.length === 0 && <li className="text-sm text-muted">No text has these words.</li>}
      </ul>
    </details>
  );
}

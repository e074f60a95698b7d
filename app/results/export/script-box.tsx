import { Copy } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { Button } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { useInBrowser } from "~/app/components/use-in-browser";
import { useStudy } from "~/app/editing/use-study";
import { inPython, inR } from "~/core/export/recipes/scripts";
import type { KeptRecipe } from "~/server/recipes";

const languages = { R: inR, Python: inPython };

/** How a script reads the file, at an address that stays. */
export function ScriptBox({ kept: { address, recipe } }: { kept: KeptRecipe }) {
  const { code } = useStudy();
  const inBrowser = useInBrowser();
  const [language, setLanguage] = useState<keyof typeof languages>("R");
  const text = languages[language]({ origin: inBrowser ? location.origin : "", code, address, recipe });
  return (
    <section aria-label="From a script" className="rounded-md border border-hairline bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-center gap-2">
        <h3 className="text-sm">
          <b>From a script</b>
        </h3>
        <span className="text-xs text-muted">
          the same file at an address that stays; <code>LAPWING_KEY</code> holds a{" "}
          <Link to={`/studies/${code}/people#keys`} className="underline">
            key that only reads this study
          </Link>
        </span>
        <span className="ml-auto flex gap-1" role="group" aria-label="Language">
          {(Object.keys(languages) as (keyof typeof languages)[]).map((each) => (
            <Button
              key={each}
              look={each === language ? "plain" : "quiet"}
              aria-pressed={each === language}
              onClick={() => setLanguage(each)}
            >
              {each}
            </Button>
          ))}
          <Button
            icon={Copy}
            look="quiet"
            onClick={() =>
              copyText(text, "The lines are copied.", "The browser blocked copying. Select the lines and copy them.")
            }
          >
            Copy
          </Button>
        </span>
      </div>
      <pre
        tabIndex={0}
        aria-label={`Lines of ${language}`}
        className="mt-2 overflow-x-auto rounded-sm border border-hairline bg-paper p-2 font-mono text-xs leading-5"
      >
        {text}
      </pre>
    </section>
  );
}

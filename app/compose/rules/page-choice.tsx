import { ChoiceLine, Property } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { setPiece } from "~/core/design/edits/page";
import { asidePage } from "~/core/design/edits/rules";
import { newPage } from "~/core/design/page";
import { freeTitle } from "~/core/values/names";
import { plainText, wordsIn } from "~/core/values/formatted-text";

/** The page a rule shows: one that is there, or a text that is written here and becomes a page which only rules show. */
export function PageChoice({ value, onChange }: { value: string; onChange: (page: string) => void }) {
  const { document, edit } = useStudy();
  const pages = Object.values(document.parts).filter((part) => part.kind === "page");
  const page = pages.find(({ id }) => id === value);
  const [only, ...others] = page?.flow ?? [];
  const text = only?.kind === "text" && others.length === 0 ? only : null;
  const choose = (chosen: string) => {
    if (chosen !== "new") return onChange(chosen);
    const names = Object.values(document.parts).map(({ name }) => name);
    const made = newPage(newId, freeTitle("A text", names), plainText("Take a short rest, then go on."));
    edit(asidePage(made));
    onChange(made.id);
  };
  return (
    <>
      <ChoiceLine
        says="Page"
        value={value}
        options={[...pages.map(({ id, name }) => [id, name] as const), ["new", "a new text …"] as const]}
        onChange={choose}
      />
      {page && text && (
        <Property label="Says">
          <textarea
            aria-label={`Text of the page ${page.name}`}
            className="field h-20"
            value={wordsIn(text.text)}
            onChange={({ target }) =>
              edit(setPiece(page.id, text.id, { text: plainText(target.value) }), `text ${text.id}`)
            }
          />
        </Property>
      )}
    </>
  );
}

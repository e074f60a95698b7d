import { ColorField, Property, Section, TextField } from "~/app/compose/property";
import { useStudy } from "~/app/editing/use-study";
import { setAbout, setSettings } from "~/core/design/edits/study";

/** What holds for the study as a whole. */
export function StudySettings() {
  const { document, edit } = useStudy();
  const { description, language, settings } = document;
  const isTag = (text: string) => /^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/.test(text);
  return (
    <>
      <Section title="What it asks">
        <textarea
          aria-label="Description of the study"
          rows={4}
          maxLength={20_000}
          value={description}
          placeholder="The question, the factors, what is compared."
          onChange={({ target }) => edit(setAbout({ description: target.value }), "description")}
          className="field !h-auto resize-y py-1.5"
        />
      </Section>
      <Section title="For participants">
        <Property label="Language" htmlFor="study-language">
          <TextField
            id="study-language"
            value={language}
            onChange={(tag) => edit(setAbout({ language: tag }), "language")}
            problem={(text) => (isTag(text) ? null : "Type a language tag such as en or de-CH.")}
          />
        </Property>
        <Property label="Stage">
          <ColorField
            label="Stage colour"
            value={settings.stageColor}
            onChange={(stageColor) => edit(setSettings({ stageColor }), "stage colour")}
          />
        </Property>
        <Property label="Text of pages">
          <ColorField
            label="Text colour of pages"
            value={settings.textColor}
            onChange={(textColor) => edit(setSettings({ textColor }), "text colour")}
          />
        </Property>
        <Property label="Full screen" htmlFor="study-full">
          <label className="flex items-center gap-2 text-sm">
            <input
              id="study-full"
              type="checkbox"
              className="size-4 accent-(--plumage)"
              checked={settings.fullScreen}
              onChange={({ target }) => edit(setSettings({ fullScreen: target.checked }))}
            />
            asked for at the start
          </label>
        </Property>
        <Property label="Progress" htmlFor="study-progress">
          <label className="flex items-center gap-2 text-sm">
            <input
              id="study-progress"
              type="checkbox"
              className="size-4 accent-(--plumage)"
              checked={settings.progressBar}
              onChange={({ target }) => edit(setSettings({ progressBar: target.checked }))}
            />
            shown as a bar on pages
          </label>
        </Property>
      </Section>
    </>
  );
}

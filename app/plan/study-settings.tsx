import { ColorField, Property, Section, Switch } from "~/app/components/fields";
import { NotesField } from "~/app/compose/notes-field";
import { useStudy } from "~/app/editing/use-study";
import { setAbout, setSettings } from "~/core/design/edits/study";
import { GazeSettings } from "./gaze-settings";
import { ParticipantPages } from "./participant-pages";
import { SittingsSettings } from "./sittings-settings";

/** What holds for the study as a whole. */
export function StudySettings() {
  const { document, edit } = useStudy();
  const { description, settings } = document;
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
      <Section title="Notes">
        <NotesField
          label="Notes on the study"
          value={document.notes ?? ""}
          onChange={(notes) => edit(setAbout({ notes }), "notes")}
        />
      </Section>
      <Section title="For participants">
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
        <Switch
          label="Progress"
          means="shown as a bar on pages"
          checked={settings.progressBar}
          onChange={(on) => edit(setSettings({ progressBar: on }))}
        />
        <div className="mt-1">
          <ParticipantPages />
        </div>
      </Section>
      <GazeSettings />
      <SittingsSettings />
    </>
  );
}

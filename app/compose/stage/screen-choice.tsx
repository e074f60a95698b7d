import { useStudy } from "~/app/editing/use-study";
import { Section, Switch } from "~/app/components/fields";
import { screenNames } from "./screens";

/** The shape of display the opened stage is shown in. */
export function ScreenChoice() {
  const { document, look, view } = useStudy();
  if (view.opened === null) return null;
  return (
    <Section title="Screens">
      <div role="group" aria-label="Shape of the display" className="flex flex-wrap gap-1">
        {screenNames.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={view.screen === name}
            onClick={() => look({ screen: name })}
            className={`h-6 rounded-md border px-2 text-sm ${view.screen === name ? "border-hairline font-semibold" : "border-transparent text-muted hover:text-ink"}`}
          >
            {name}
          </button>
        ))}
      </div>
      {document.settings.viewing && (
        <Switch
          label="Rings"
          means="at 1, 2, 5, 10 and 20°"
          checked={view.rings}
          onChange={(rings) => look({ rings })}
        />
      )}
    </Section>
  );
}

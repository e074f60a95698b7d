import { Section } from "./fields";

/** Where something is used, in words; `none` where it is nowhere. */
export const UsedIn = ({
  title = "Used in",
  uses,
  none = "Nowhere yet.",
}: {
  title?: string;
  uses: string[];
  none?: string;
}) => (
  <Section title={title}>
    {uses.length === 0 ? (
      <p className="text-sm text-muted">{none}</p>
    ) : (
      <ul className="list-disc pl-4 text-sm">
        {uses.map((use) => (
          <li key={use}>{use}</li>
        ))}
      </ul>
    )}
  </Section>
);

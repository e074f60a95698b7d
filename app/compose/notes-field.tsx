/** Words for the team about a study, block, scene or row. Participants never see them. */
export const NotesField = ({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) => (
  <textarea
    aria-label={label}
    value={value}
    rows={Math.min(8, Math.max(2, value.split("\n").length))}
    placeholder="For the team; participants never see it"
    onChange={({ target }) => onChange(target.value)}
    className="field !h-auto resize-y py-1 text-sm"
  />
);

import { Property, TextField } from "~/app/components/fields";

/** A number that may be left out. */
export const OptionalNumber = ({
  says,
  label = says,
  value,
  onChange,
  suffix,
  whole = false,
  least = -Infinity,
}: {
  says: string;
  label?: string;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
  suffix?: string;
  whole?: boolean;
  least?: number;
}) => {
  const read = (text: string) => (text.trim() === "" ? undefined : Number(text.trim().replace(",", ".")));
  return (
    <Property label={says}>
      <TextField
        label={label}
        value={value === undefined ? "" : String(value)}
        onChange={(text) => onChange(read(text))}
        {...(suffix === undefined ? {} : { suffix })}
        problem={(text) => {
          const number = read(text);
          if (number === undefined) return null;
          if (!Number.isFinite(number) || (whole && !Number.isInteger(number)))
            return whole ? "Type a whole number, or nothing." : "Type a number, or nothing.";
          return number < least ? `Must be ${least} or more.` : null;
        }}
      />
    </Property>
  );
};

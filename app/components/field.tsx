import { useId, type InputHTMLAttributes } from "react";

/** A labelled text field with its problem below it. */
export function Field({
  label,
  problem,
  hint,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { label: string; problem?: string | undefined; hint?: string }) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label}
      </label>
      <input
        id={id}
        className="field !h-9 !text-base"
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem || hint ? `${id}-note` : undefined}
        {...rest}
      />
      {(problem ?? hint) && (
        <p id={`${id}-note`} className={`text-sm ${problem ? "text-alarm" : "text-muted"}`}>
          {problem ?? hint}
        </p>
      )}
    </div>
  );
}

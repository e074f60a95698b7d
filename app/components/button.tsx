import type { LucideIcon } from "lucide-react";
import type { ButtonHTMLAttributes, Ref } from "react";

type Look = "primary" | "plain" | "quiet" | "alarm";
type Props = ButtonHTMLAttributes<HTMLButtonElement> & { icon?: LucideIcon; look?: Look; ref?: Ref<HTMLButtonElement> };

const looks: Record<Look, string> = {
  primary: "bg-plumage text-on-plumage border-plumage hover:opacity-90",
  plain: "bg-sheet text-ink border-hairline hover:bg-plumage-tint",
  quiet: "border-transparent text-muted hover:text-ink hover:bg-plumage-tint",
  alarm: "bg-sheet text-alarm border-hairline hover:bg-alarm-tint",
};
export const buttonClass = (look: Look = "plain") =>
  `inline-flex h-7 shrink-0 items-center justify-center gap-1.5 whitespace-nowrap rounded-md border px-2.5 text-sm font-medium disabled:opacity-45 ${looks[look]}`;

/** A button: a verb, with an icon where that helps to find it. */
export function Button({ icon: Icon, look = "plain", className = "", children, type = "button", ...rest }: Props) {
  return (
    <button type={type} className={`${buttonClass(look)} ${className}`} {...rest}>
      {Icon && <Icon size={16} aria-hidden="true" />}
      {children}
    </button>
  );
}

/** A button that is only an icon; its label is read out and shown as tooltip. */
export function IconButton({
  icon: Icon,
  label,
  look = "quiet",
  className = "",
  ...rest
}: Omit<Props, "icon"> & { icon: LucideIcon; label: string }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      className={`${buttonClass(look)} w-7 !px-0 ${className}`}
      {...rest}
    >
      <Icon size={16} aria-hidden="true" />
    </button>
  );
}

import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

const itemClass =
  "flex cursor-default items-center gap-2 rounded-[4px] px-2.5 py-1 text-sm outline-none data-[highlighted]:bg-plumage-tint data-[disabled]:opacity-45";

/** A button's menu. `trigger` is the button; the focus goes back to it, unless `onClosed` takes it elsewhere. */
export function Menu({
  trigger,
  children,
  align = "start",
  onOpened,
  onClosed,
}: {
  onOpened?: () => void;
  onClosed?: () => void;
  trigger: ReactNode;
  children: ReactNode;
  align?: "start" | "end";
}) {
  return (
    <DropdownMenu.Root onOpenChange={(isOpen) => isOpen && onOpened?.()}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={4}
          onCloseAutoFocus={(event) => {
            if (!onClosed) return;
            event.preventDefault();
            onClosed();
          }}
          className="z-50 max-h-[min(60vh,var(--radix-dropdown-menu-content-available-height))] min-w-44 overflow-auto rounded-md border border-hairline bg-sheet p-1 text-ink"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export const MenuItem = ({
  onSelect,
  children,
  alarm = false,
}: {
  onSelect: () => void;
  children: ReactNode;
  alarm?: boolean;
}) => (
  <DropdownMenu.Item className={`${itemClass} ${alarm ? "text-alarm" : ""}`} onSelect={onSelect}>
    {children}
  </DropdownMenu.Item>
);
/** A choice within a menu, which stays open for what is chosen next. */
export const MenuTick = ({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children: ReactNode;
}) => (
  <DropdownMenu.CheckboxItem
    className={itemClass}
    checked={checked}
    onCheckedChange={onChange}
    onSelect={(event) => event.preventDefault()}
  >
    <span aria-hidden="true" className="grid h-4 w-4 shrink-0 place-items-center rounded-[3px] border border-muted">
      <DropdownMenu.ItemIndicator>
        <Check size={12} />
      </DropdownMenu.ItemIndicator>
    </span>
    {children}
  </DropdownMenu.CheckboxItem>
);
export const MenuLabel = ({ children }: { children: ReactNode }) => (
  <DropdownMenu.Label className="px-2.5 pt-1.5 pb-0.5 text-xs font-semibold text-muted">{children}</DropdownMenu.Label>
);

import { Dialog as Radix } from "radix-ui";
import { X } from "lucide-react";
import type { ReactNode } from "react";
import { IconButton } from "./button";

type Props = {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  description?: string;
  /** Leaves out the close button: one of the buttons inside has to be pressed. */
  mustChoose?: boolean;
  children: ReactNode;
};

export function Dialog({ open, onOpenChange, title, description, mustChoose = false, children }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Radix.Content
          className="fixed left-1/2 top-[18vh] z-50 grid max-h-[70vh] w-[min(520px,92vw)] -translate-x-1/2 gap-3 overflow-auto rounded-md border border-hairline bg-sheet p-5"
          {...(description ? {} : { "aria-describedby": undefined })}
        >
          <div className="flex items-start justify-between gap-4">
            <Radix.Title className="font-serif text-[20px] leading-7">{title}</Radix.Title>
            {!mustChoose && (
              <Radix.Close asChild>
                <IconButton icon={X} label="Close" />
              </Radix.Close>
            )}
          </div>
          {description && <Radix.Description className="text-muted">{description}</Radix.Description>}
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

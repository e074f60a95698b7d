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
  /** For what needs more room than a question does. */
  wide?: boolean;
  /** Whether Escape is for something inside at this moment, and does not close the dialog. */
  keepsEscape?: () => boolean;
  children: ReactNode;
};

export function Dialog({
  open,
  onOpenChange,
  title,
  description,
  mustChoose = false,
  wide = false,
  keepsEscape,
  children,
}: Props) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Radix.Content
          className={`fixed left-1/2 z-50 grid ${wide ? "top-[8vh] max-h-[84vh] w-[min(860px,94vw)]" : "top-[18vh] max-h-[70vh] w-[min(520px,92vw)]"} -translate-x-1/2 gap-3 overflow-auto rounded-md border border-hairline bg-sheet p-5`}
          {...(description ? {} : { "aria-describedby": undefined })}
          onEscapeKeyDown={(event) => {
            if (keepsEscape?.()) event.preventDefault();
          }}
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

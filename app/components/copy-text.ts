import { toast } from "sonner";

/** Puts a text on the clipboard and says so; browsers without one (plain HTTP) and those that refuse are told of too. */
export function copyText(text: string, done: string, otherwise: string): void {
  const { clipboard } = navigator as { clipboard?: Clipboard };
  (clipboard?.writeText(text) ?? Promise.reject(new Error("not allowed"))).then(
    () => toast.success(done),
    () => toast.error(otherwise),
  );
}

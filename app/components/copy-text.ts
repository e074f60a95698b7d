import { toast } from "sonner";

/** Copies a text to the clipboard and says so; says too if the browser has none (plain HTTP) or refuses. */
export function copyText(text: string, done: string, otherwise: string): void {
  const { clipboard } = navigator as { clipboard?: Clipboard };
  (clipboard?.writeText(text) ?? Promise.reject(new Error("not allowed"))).then(
    () => toast.success(done),
    () => toast.error(otherwise),
  );
}

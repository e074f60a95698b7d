import { useState } from "react";
import { useFetcher } from "react-router";

/**
 * A setting of the page that is saved as it is chosen: what was chosen last stands until the server tells how it is, or
 * while the server refuses it, with the reason.
 */
export function useChosen<Value extends object>(asked: Value, body: (next: Value) => object) {
  const saving = useFetcher<{ reason?: string }>();
  const [last, setLast] = useState<{ value: Value; instead: Value } | null>(null);
  const reason = saving.data?.reason;
  const isWaiting = saving.state !== "idle";
  const value = last && (isWaiting || last.instead === asked || reason !== undefined) ? last.value : asked;
  const saveWhole = (next: Value) => {
    setLast({ value: next, instead: asked });
    void saving.submit(body(next) as never, { method: "post", encType: "application/json" });
  };
  const save = (change: Partial<Value>) => saveWhole({ ...value, ...change });
  const without = (name: keyof Value) =>
    saveWhole(Object.fromEntries(Object.entries(value).filter(([each]) => each !== name)) as Value);
  return { value, save, saveWhole, without, reason };
}

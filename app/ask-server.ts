export type Answered<T> = { ok: true; data: T } | { ok: false; reason: string };

/** Asks an address of this server for JSON: gives that, or in words why there is none. */
export async function askServer<T>(address: string, asked?: RequestInit): Promise<Answered<T>> {
  const response = await fetch(address, asked).catch(() => null);
  // Whoever is signed out is led to the page for signing in.
  if (response?.redirected)
    return { ok: false, reason: "You are signed out. Sign in in another window, then try again." };
  const said = (await response?.json().catch(() => null)) as T | { reason?: string } | null | undefined;
  if (response?.ok && said != null) return { ok: true, data: said as T };
  const reason = typeof said === "object" && said !== null && "reason" in said ? said.reason : undefined;
  return { ok: false, reason: reason ?? "The server cannot be reached. Try again." };
}

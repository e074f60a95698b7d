import type { ReactNode } from "react";
import { Mark } from "./mark";

/** The 3 px line under every top strip. */
export const SignatureLine = () => (
  <div
    aria-hidden="true"
    className="h-[3px] shrink-0"
    style={{ background: "linear-gradient(90deg, var(--plumage), var(--lagoon), var(--sheen))" }}
  />
);

/** A page with one thing on it: signing in, a message. */
export function Plain({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="min-h-dvh">
      <header className="flex h-12 items-center gap-3 bg-sheet px-4">
        <Mark />
        <span className="font-serif text-[18px]">Lapwing</span>
      </header>
      <SignatureLine />
      <main className="mx-auto mt-[10vh] grid max-w-[420px] gap-4 px-4">
        <h1 className="font-serif text-[30px] leading-9">{title}</h1>
        {children}
      </main>
    </div>
  );
}

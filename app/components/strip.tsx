import { CircleUserRound, Gauge, KeyRound, LogOut } from "lucide-react";
import type { ReactNode } from "react";
import { Form, Link } from "react-router";
import { Mark } from "./mark";
import { Menu } from "./menu";
import { SignatureLine } from "./plain-page";
import { buttonClass } from "./button";

/** The top strip: mark, what stands beside it, the middle, and the right side. */
export function Strip({ beside, middle, children }: { beside: ReactNode; middle?: ReactNode; children?: ReactNode }) {
  return (
    <>
      <header className="grid min-h-12 shrink-0 grid-cols-[1fr_auto_1fr] items-center gap-4 bg-sheet px-4 small:flex small:flex-wrap small:gap-y-1 small:py-1.5">
        <div className="flex min-w-0 items-center gap-3 small:flex-1">
          <Link to="/studies" aria-label="Your studies" title="Your studies" className="shrink-0">
            <Mark />
          </Link>
          {beside}
        </div>
        <div className="small:order-last small:basis-full">{middle}</div>
        <div className="flex items-center justify-end gap-2">{children}</div>
      </header>
      <SignatureLine />
    </>
  );
}

export function AccountMenu({ name }: { name: string }) {
  return (
    <Menu
      align="end"
      trigger={
        <button type="button" className={buttonClass("quiet")}>
          <CircleUserRound size={16} aria-hidden="true" />
          {name}
        </button>
      }
    >
      <Link
        to="/account"
        className="flex w-full items-center gap-2 rounded-[4px] px-2.5 py-1 text-sm hover:bg-plumage-tint"
      >
        <KeyRound size={16} aria-hidden="true" />
        Your account
      </Link>
      {/* Loaded anew: the page of the test is isolated from others, so that its clock is fine. */}
      <a
        href="/self-test"
        className="flex w-full items-center gap-2 rounded-[4px] px-2.5 py-1 text-sm hover:bg-plumage-tint"
      >
        <Gauge size={16} aria-hidden="true" />
        Self-test of this computer
      </a>
      <Form method="post" action="/sign-out">
        <button
          type="submit"
          className="flex w-full items-center gap-2 rounded-[4px] px-2.5 py-1 text-sm hover:bg-plumage-tint"
        >
          <LogOut size={16} aria-hidden="true" />
          Sign out
        </button>
      </Form>
    </Menu>
  );
}

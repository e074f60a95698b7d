import { CircleUserRound, Gauge, KeyRound, LogOut, Users } from "lucide-react";
import type { ReactNode } from "react";
import { Link, useNavigate, useSubmit } from "react-router";
import { Mark } from "./mark";
import { Menu, MenuItem } from "./menu";
import { SignatureLine } from "./plain-page";
import { buttonClass } from "./button";

/** The top strip: mark, what stands beside it, the middle, and the right side. */
export function Strip({
  beside,
  middle,
  children,
  home = "/studies",
}: {
  beside: ReactNode;
  middle?: ReactNode;
  children?: ReactNode;
  /** Where the mark leads. */
  home?: string;
}) {
  return (
    <>
      <header className="grid min-h-12 shrink-0 print:hidden grid-cols-[1fr_auto_1fr] items-center gap-4 bg-sheet px-4 small:flex small:flex-wrap small:gap-y-1 small:py-1.5">
        <div className="flex min-w-0 items-center gap-3 small:flex-1">
          <Link
            to={home}
            aria-label={home === "/studies" ? "Your studies" : "All studies of this computer"}
            title={home === "/studies" ? "Your studies" : "All studies of this computer"}
            className="shrink-0"
          >
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
  const navigate = useNavigate();
  const submit = useSubmit();
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
      <MenuItem onSelect={() => void navigate("/account")}>
        <KeyRound size={16} aria-hidden="true" />
        Your account
      </MenuItem>
      <MenuItem onSelect={() => void navigate("/team")}>
        <Users size={16} aria-hidden="true" />
        People and laboratories
      </MenuItem>
      {/* Loaded anew: the page of the test is isolated from others, so that its clock is fine. */}
      <MenuItem onSelect={() => location.assign("/self-test")}>
        <Gauge size={16} aria-hidden="true" />
        Self-test of this computer
      </MenuItem>
      <MenuItem onSelect={() => void submit(null, { method: "post", action: "/sign-out" })}>
        <LogOut size={16} aria-hidden="true" />
        Sign out
      </MenuItem>
    </Menu>
  );
}

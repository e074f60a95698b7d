import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useRouteLoaderData,
} from "react-router";
import sans from "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url";
import mono from "@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2?url";
import serifItalic from "@fontsource-variable/newsreader/files/newsreader-latin-wght-italic.woff2?url";
import serif from "@fontsource-variable/newsreader/files/newsreader-latin-wght-normal.woff2?url";
import { Toaster } from "sonner";
import type { Route } from "./+types/root";
import styles from "./styles/app.css?url";
import { Plain } from "./components/plain-page";

/** What every screen is written in comes with the page: text laid out before its font is there can stay in another. */
const fonts = [sans, serif, serifItalic, mono];

export const links: Route.LinksFunction = () => [
  ...fonts.map((href) => ({ rel: "preload", href, as: "font", type: "font/woff2", crossOrigin: "anonymous" as const })),
  { rel: "stylesheet", href: styles },
  { rel: "icon", href: "/mark.svg", type: "image/svg+xml" },
];
export const meta: Route.MetaFunction = () => [{ title: "Lapwing" }];
export const loader = ({ context }: Route.LoaderArgs) => ({ nonce: context.nonce });

export function Layout({ children }: { children: React.ReactNode }) {
  // The browser hides a nonce from scripts; the loader's value is used on the server only.
  const nonce = useRouteLoaderData<typeof loader>("root")?.nonce;
  const once = typeof document === "undefined" && nonce ? { nonce } : { nonce: "" };
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
      </head>
      <body suppressHydrationWarning>
        {children}
        <Toaster
          position="bottom-right"
          toastOptions={{
            style: {
              background: "var(--sheet)",
              color: "var(--ink)",
              border: "1px solid var(--hairline)",
              borderRadius: 6,
              boxShadow: "none",
              fontFamily: "var(--font-sans)",
            },
          }}
        />
        <ScrollRestoration {...once} />
        <Scripts {...once} />
      </body>
    </html>
  );
}

export const shouldRevalidate = () => false;

export default function Root() {
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const missing = isRouteErrorResponse(error) && error.status === 404;
  const refused =
    isRouteErrorResponse(error) && error.status === 403
      ? ((error.data as { reason?: string } | null)?.reason ?? "You may not do this.")
      : null;
  const title = missing ? "Not found" : refused === null ? "This page could not be shown" : "Not allowed";
  return (
    <Plain title={title}>
      <p>
        {missing
          ? "There is nothing at this address, or it belongs to another account."
          : (refused ?? "Something went wrong. Nothing that was saved is lost.")}
      </p>
      <p>
        <a className="font-semibold text-plumage" href="/studies">
          Go to your studies
        </a>
      </p>
    </Plain>
  );
}

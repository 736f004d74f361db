import { type ReactNode, use, useEffect } from "react";
import { Links, Meta, Outlet, Scripts, ScrollRestoration } from "react-router";
import type { Route } from "./+types/root";
import { writing } from "#core/words/formats.ts";
import stylesheet from "./app.css?url";
import { ErrorPage } from "./ui/error-page.tsx";
import { useFocusAfterForm } from "./ui/focus-after-form.ts";
import { NonceContext } from "./ui/nonce.ts";

if (typeof document !== "undefined") {
  writing.locale = document.documentElement.lang;
  // These pages are the same for every school: they take the locale of the last page of one.
  const isOfNoSchool = /^\/(record|sign-in|first-run)$/.test(location.pathname);
  try {
    if (isOfNoSchool) writing.locale = localStorage.getItem("locale") ?? writing.locale;
    else localStorage.setItem("locale", writing.locale);
  } catch {
    // A browser that stores nothing writes those pages as in the United States.
  }
}

export const links: Route.LinksFunction = () => [
  { rel: "stylesheet", href: stylesheet },
  { rel: "icon", href: "/icon.svg", type: "image/svg+xml" },
  { rel: "apple-touch-icon", href: "/icon-192.png" },
  { rel: "manifest", href: "/app.webmanifest" },
];

export function Layout({ children }: { children: ReactNode }) {
  const nonce = use(NonceContext);
  return (
    <html lang={typeof document === "undefined" ? writing.locale : document.documentElement.lang}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover" />
        <meta name="color-scheme" content="light dark" />
        <meta name="theme-color" content="#fbf8f1" media="(prefers-color-scheme: light)" />
        <meta name="theme-color" content="#1f1d1a" media="(prefers-color-scheme: dark)" />
        <Meta />
        <Links />
      </head>
      <body>
        {children}
        <p id="said" className="sr-only" aria-live="polite" />
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function App() {
  useFocusAfterForm();
  useEffect(() => {
    // Whoever signs out in one tab leaves no draft behind in another.
    const others = new BroadcastChannel("gentle-margin sign-out");
    others.onmessage = () => sessionStorage.clear();
    return () => others.close();
  }, []);
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <ErrorPage error={error} />;
}

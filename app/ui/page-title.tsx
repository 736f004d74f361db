import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { say } from "./say.ts";

/** Is this the first view since the page was loaded? The browser names that one itself. */
let isFirst = true;

/**
 * The name of a view, as the title of the tab and as its first heading. When the view comes in place of another one the focus goes to
 * this heading, unless the view put it into a field, and the title is said.
 */
export function PageTitle({
  title,
  of,
  children,
  className = "font-serif text-[1.7rem] leading-tight font-semibold",
}: {
  title: string;
  /** Whom or what the view is about: a student by initials. */
  of?: string | undefined;
  /** What is shown instead of the title, where the page has more room or less. */
  children?: React.ReactNode;
  className?: string;
}) {
  const heading = useRef<HTMLHeadingElement>(null);
  const { pathname } = useLocation();
  const name = of ? `${title} · ${of}` : title;
  useEffect(() => {
    if (isFirst) {
      isFirst = false;
      return;
    }
    say(name);
    const { activeElement } = document;
    if (!activeElement?.matches("main :is(input, textarea, select), dialog *"))
      heading.current?.focus({ preventScroll: true });
  }, [name, pathname]);
  return (
    <>
      <title>{`${name} · Gentle Margin`}</title>
      <h1 ref={heading} tabIndex={-1} className={className} dir="auto">
        {children ?? title}
        {of && !children ? <span className="sr-only"> · {of}</span> : null}
      </h1>
    </>
  );
}

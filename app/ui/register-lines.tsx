import { type KeyboardEvent, type ReactNode, type Ref, useState } from "react";
import type { Line } from "#app/kit/use-written-rows.ts";

/** Steps from line to line with the arrow keys, where one is at the head of a line. */
function step(event: KeyboardEvent<HTMLElement>) {
  const by = event.key === "ArrowUp" ? -1 : event.key === "ArrowDown" ? 1 : 0;
  if (by === 0 || !(event.target instanceof HTMLElement) || event.target.tagName !== "SUMMARY") return;
  const heads = [...event.currentTarget.querySelectorAll<HTMLElement>("summary")];
  const next = heads[heads.indexOf(event.target) + by];
  if (!next) return;
  next.focus();
  event.preventDefault();
}

/** A register: one line for each, opened in place to be changed. */
export function RegisterLines({ children, ...kept }: { children: ReactNode }) {
  return (
    <ul className="entry-lines" onKeyDown={step} {...kept}>
      {children}
    </ul>
  );
}

/**
 * One line of a register. Its head says what stands; opened, it shows the fields. It opens by itself where something is wrong in it.
 *
 * @param children the fields; asked for once the line is open
 */
export function RegisterLine({
  line,
  head,
  aside,
  isChanged,
  isOpen: opensAs,
  ref,
  className = "",
  children,
}: {
  line: Line;
  head: ReactNode;
  /** What stands beside the line, open or closed. */
  aside?: ReactNode;
  isChanged: boolean;
  isOpen: boolean;
  ref?: Ref<HTMLLIElement>;
  className?: string;
  children: (isOpen: boolean) => ReactNode;
}) {
  const [isOpen, setOpen] = useState(opensAs);
  const [seen, setSeen] = useState({ wrong: line.wrong, opensAs });
  if (seen.wrong !== line.wrong || seen.opensAs !== opensAs) {
    setSeen({ wrong: line.wrong, opensAs });
    const hasMore = seen.wrong !== line.wrong && Object.keys(line.wrong).length > 0;
    if (hasMore || (opensAs && !seen.opensAs)) setOpen(true);
  }
  return (
    <li ref={ref} className={`entry-line ${className}`}>
      <details
        className="min-w-0 flex-1"
        open={isOpen}
        onToggle={({ currentTarget }) => setOpen(currentTarget.open)}
      >
        <summary>
          {head}
          {isChanged ? <i className="text-fine text-soft">changed, not saved yet</i> : null}
        </summary>
        <div className="entry-fields">{children(isOpen)}</div>
      </details>
      {aside}
    </li>
  );
}

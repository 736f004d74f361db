import type { ReactNode } from "react";
import { Form, useSearchParams } from "react-router";
import { chosenHere, useChoicesKey } from "./chosen-here.ts";
import { filledFields } from "./filled-fields.ts";

/** Choices that stand in the address: the page answers each at once, and without scripts when the button is pressed. */
export function ChoicesForm({
  label,
  className,
  children,
}: {
  label: string;
  className: string;
  children: ReactNode;
}) {
  const [, setSearch] = useSearchParams();
  return (
    <Form
      key={useChoicesKey()}
      className={className}
      role="search"
      aria-label={label}
      onChange={(event) =>
        setSearch(filledFields(event.currentTarget), { preventScrollReset: true, state: chosenHere })
      }
    >
      {children}
      <noscript>
        <button className="btn btn-plain">Show</button>
      </noscript>
    </Form>
  );
}

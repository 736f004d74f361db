import type { ReactNode } from "react";
import { Form } from "react-router";
import type { Language } from "#core/words/en.ts";
import { familyPageWords } from "#core/words/family-page.ts";

/** A page of the family: one narrow column in their language, made for a phone. */
export function FamilyFrame({
  language,
  school,
  mayLeave = false,
  children,
}: {
  language: Language;
  school: string;
  /** Is there a session to end? */
  mayLeave?: boolean;
  children: ReactNode;
}) {
  const words = familyPageWords[language];
  return (
    <main
      lang={language}
      className="mx-auto min-h-dvh w-full max-w-3xl border-rule px-5 py-6 text-[1.0625rem] leading-relaxed sm:border-l sm:px-8"
    >
      <header className="no-print mb-5 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-base-300 pb-2">
        <p className="font-serif text-lg font-semibold">{school || "Gentle Margin"}</p>
        {mayLeave ? (
          <Form method="post" action="/family" className="ml-auto">
            <button className="link min-h-11 cursor-pointer" name="intent" value="leave">
              {words.leave}
            </button>
          </Form>
        ) : null}
      </header>
      {children}
    </main>
  );
}

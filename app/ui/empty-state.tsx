import type { ReactNode } from "react";

/** Why there is nothing here, and what brings something. */
export function EmptyState({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="max-w-lg py-10">
      <h2 className="font-serif text-xl font-semibold">{title}</h2>
      <div className="mt-2 grid gap-2 font-serif leading-relaxed text-soft">{children}</div>
    </div>
  );
}

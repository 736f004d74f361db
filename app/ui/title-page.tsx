import type { ReactNode } from "react";
import { PageTitle } from "./page-title.tsx";

/** The page outside the notebook: a title on the left of the margin rule, what there is to do on its right. */
export function TitlePage({ title, lead, children }: { title: string; lead: string; children: ReactNode }) {
  return (
    <main className="mx-auto grid min-h-dvh w-full max-w-5xl content-center gap-x-14 gap-y-8 px-6 py-10 md:grid-cols-[1fr_23rem]">
      <div className="flex flex-col justify-center md:items-end md:text-right">
        <p className="font-serif text-[2.5rem] leading-tight font-semibold">Gentle Margin</p>
        <p className="mt-3 max-w-[22rem] font-serif text-lg leading-relaxed text-soft">{lead}</p>
      </div>
      <div className="border-rule md:border-l md:py-10 md:pl-14">
        <PageTitle title={title} className="mb-5 text-xl font-bold" />
        {children}
      </div>
    </main>
  );
}

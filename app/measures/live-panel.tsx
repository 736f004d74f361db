import { type ComponentProps, lazy, Suspense } from "react";
import { useAwake } from "#app/ui/use-awake.ts";

const CountingPanel = lazy(() => import("./counting-panel.tsx"));

/** The recording panel over the fields of a form, once scripts run: until then, and without them, the fields do. */
export function LivePanel(props: ComponentProps<typeof CountingPanel>) {
  const awake = useAwake();
  return awake ? (
    <Suspense>
      <CountingPanel {...props} />
    </Suspense>
  ) : null;
}

import { useState } from "react";
import { signInByPasskey } from "#app/kit/ask-passkey.ts";
import { FormProblem } from "#app/ui/field.tsx";

/** Signs in with a passkey of this device. Not there without scripts. */
export function PasskeyButton({ to }: { to: string | null }) {
  const [state, setState] = useState<{ busy: boolean; why?: string | undefined }>({ busy: false });
  const ask = async () => {
    setState({ busy: true });
    const why = await signInByPasskey(to);
    if (why !== null) setState({ busy: false, why });
  };
  return (
    <div className="with-scripts grid gap-2">
      <FormProblem>{state.why}</FormProblem>
      <button type="button" className="btn btn-plain w-full" disabled={state.busy} onClick={() => void ask()}>
        {state.busy ? "Waiting for the passkey …" : "Use a passkey"}
      </button>
    </div>
  );
}

import { useState } from "react";
import { NavigationType, useLocation, useNavigationType } from "react-router";

/** Goes along with a change of the address that a form of choices made itself. */
export const chosenHere = "chosen here";

/**
 * The key of a form whose choices stand in the address: it stays while it is touched, and is another where the address was
 * changed by anything else, going back among it, so that the form shows what the address says.
 */
export function useChoicesKey(): number {
  const location = useLocation();
  const way = useNavigationType();
  const [shown, setShown] = useState({ key: location.key, times: 0 });
  if (shown.key !== location.key) {
    const isMine = way !== NavigationType.Pop && location.state === chosenHere;
    setShown({ key: location.key, times: shown.times + (isMine ? 0 : 1) });
  }
  return shown.times;
}

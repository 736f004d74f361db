import { useEffect, useState } from "react";

/** Do scripts run on this page yet? False on the server and in the first drawing, so that both draw the same. */
export function useAwake(): boolean {
  const [awake, setAwake] = useState(false);
  useEffect(() => setAwake(true), []);
  return awake;
}

import { useState } from "react";
import { useLocation } from "react-router";

/**
 * What an action answered, for as long as the page stays where it is. The router forgets it when the page's data are read again, which a live
 * update does at any moment: a message, or a link that is shown once, would be gone.
 */
export function useLasting<Sent>(sent: Sent | undefined): Sent | undefined {
  const { key } = useLocation();
  const [held, setHeld] = useState({ sent, key });
  // The answer is there a moment before the place it belongs to.
  const isNew = sent !== held.sent || held.key !== key;
  if (isNew && (sent !== undefined || held.key !== key)) setHeld({ sent, key });
  return sent ?? (held.key === key ? held.sent : undefined);
}

import { Form } from "react-router";
import { momentWords } from "./moment-words.ts";

interface Session {
  sessionId: string;
  /** The browser and its device, in words; may be empty. */
  agent: string;
  /** When it was opened and last used, `YYYY-MM-DDTHH:MM` of the school. */
  opened: string;
  seen: string;
  isThis?: boolean;
}

/** Where an account is signed in, each with “Sign out there”. */
export function SessionList({
  sessions,
  elsewhere,
  busy,
}: {
  sessions: readonly Session[];
  /** What signs out of all but this one. */
  elsewhere: string;
  busy: boolean;
}) {
  const button = (words: React.ReactNode, small = false) => (
    <button
      className={`btn btn-plain ${small ? "btn-sm" : ""}`}
      name="intent"
      value="sign out there"
      disabled={busy}
    >
      {words}
    </button>
  );
  return (
    <>
      <ul className="mt-1">
        {sessions.map(({ sessionId, agent, isThis, opened, seen }) => (
          <li
            key={sessionId}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-base-300 py-2"
          >
            <b className="font-serif text-[1.05rem] font-semibold">{agent || "A browser"}</b>
            <span className="text-fine text-soft">
              since {momentWords(opened)} · last used {momentWords(seen)}
            </span>
            {isThis ? (
              <span className="ml-auto font-bold">here</span>
            ) : (
              <Form method="post" className="ml-auto" preventScrollReset>
                <input type="hidden" name="sessionId" value={sessionId} />
                {button(
                  <>
                    Sign out there
                    <span className="sr-only">
                      : {agent}, last used {momentWords(seen)}
                    </span>
                  </>,
                  true,
                )}
              </Form>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 ? (
        <Form method="post" className="mt-3" preventScrollReset>
          <input type="hidden" name="sessionId" value="" />
          {button(elsewhere)}
        </Form>
      ) : null}
    </>
  );
}

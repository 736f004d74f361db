/** What the server answers about passkeys: where to go, what to ask the authenticator, or why not. */
interface Answer {
  to?: string;
  why?: string;
  options?: unknown;
  challengeToken?: string;
}

async function post(body: object): Promise<Answer> {
  const answer = await fetch("/passkeys", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });
  return (await answer.json()) as Answer;
}

const unanswered = "There is no connection. Try again in a moment.";
const notGiven = "No passkey was given. Try again, or go on without.";

/**
 * Asks the server what to ask the authenticator, asks it, and sends its answer.
 *
 * @returns why it did not succeed; null where the browser is on its way to the next page
 */
async function askAndSend(
  ask: object,
  answerOf: (options: never) => Promise<object>,
  send: object,
): Promise<string | null> {
  const asked = await post(ask).catch(() => null);
  if (asked === null) return unanswered;
  if (!asked.options) return asked.why ?? unanswered;
  const response = await answerOf(asked.options as never).catch(() => null);
  if (response === null) return notGiven;
  const done = await post({ ...send, challengeToken: asked.challengeToken, response }).catch(() => null);
  if (done?.to === undefined) return done?.why ?? unanswered;
  location.assign(done.to);
  return null;
}

/** Signs in with a passkey of this device, and leads to a page. */
export async function signInByPasskey(to: string | null): Promise<string | null> {
  const { startAuthentication } = await import("@simplewebauthn/browser");
  return askAndSend({ act: "ask" }, (options) => startAuthentication({ optionsJSON: options }), {
    act: "sign in",
    to,
  });
}

/** Makes a passkey on this device for the account that is signed in. */
export async function makePasskey(name: string, password: string): Promise<string | null> {
  const { startRegistration } = await import("@simplewebauthn/browser");
  return askAndSend(
    { act: "ask to add", password },
    (options) => startRegistration({ optionsJSON: options }),
    { act: "add", name },
  );
}

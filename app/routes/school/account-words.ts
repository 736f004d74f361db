import { localMoment } from "#core/dates/school-time.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import type { StaffMember } from "#server/db/staff.ts";
import type { AccountHere } from "#server/db/tickets.ts";

/** How a person comes to sign in, or does. */
export type AccountState = "has an account" | "invited" | "run out" | "not invited" | "no e-mail";

/** What the pages about accounts show of a person of the school. Moments are the school's own, `YYYY-MM-DDTHH:MM`. */
export interface AccountLine {
  personId: string;
  name: string;
  position: string;
  email: string | null;
  state: AccountState;
  accountEmail: string | null;
  lastIn: string | null;
  invitedUntil: string | null;
  hasReset: boolean;
  isElsewhere: boolean;
  openSessions: number;
  hasStep: boolean;
}

/** The line of a person. */
export function accountLine(
  { personId, givenName, familyName, position, email }: StaffMember,
  account: AccountHere | undefined,
  timeZone: string,
): AccountLine {
  // Links run out by real time, as sessions do, whatever day the demo plays.
  const isPast = (moment: string) => Date.parse(moment) <= Date.now();
  const local = (moment: string | null | undefined) =>
    moment ? localMoment(timeZone, Date.parse(moment)) : null;
  const { accountEmail = null, invitedUntil = null, resetUntil = null } = account ?? {};
  const state = (): AccountState => {
    if (accountEmail !== null) return "has an account";
    if (email === null) return "no e-mail";
    if (invitedUntil === null) return "not invited";
    return isPast(invitedUntil) ? "run out" : "invited";
  };
  return {
    ...{ personId, name: `${givenName} ${familyName}`, position, email, state: state(), accountEmail },
    ...{ lastIn: local(account?.lastIn), invitedUntil: local(invitedUntil) },
    hasReset: resetUntil !== null && !isPast(resetUntil),
    ...{ isElsewhere: account?.isElsewhere ?? false, openSessions: account?.openSessions ?? 0 },
    hasStep: account?.hasStep ?? false,
  };
}

/** What is said of how a person signs in. */
export function stateWords({
  state,
  lastIn,
  invitedUntil,
  accountEmail,
  email,
  hasStep,
}: AccountLine): string {
  const until = invitedUntil ? dateWithYear(invitedUntil.slice(0, 10)) : "";
  switch (state) {
    case "has an account":
      return [
        accountEmail,
        lastIn ? `last signed in ${momentWords(lastIn)}` : "no sign-in yet",
        hasStep && "second step",
      ]
        .filter(Boolean)
        .join(", ");
    case "invited":
      return `${email ?? ""}, invited; the link is good until ${until}`;
    case "run out":
      return `${email ?? ""}, the invitation ran out on ${until}`;
    case "not invited":
      return `${email ?? ""}, not invited yet`;
    case "no e-mail":
      return "no e-mail, so no invitation";
  }
}

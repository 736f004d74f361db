import type { Knex } from "knex";
import * as foundation from "./001-foundation.ts";
import * as goals from "./002-goals.ts";
import * as sittings from "./003-sittings.ts";
import * as together from "./004-together.ts";
import * as incidents from "./005-incidents.ts";
import * as plans from "./006-plans.ts";
import * as decisions from "./007-decisions.ts";
import * as clock from "./008-clock.ts";
import * as actors from "./009-actors.ts";
import * as unusedGoal from "./010-unused-goal.ts";
import * as oneHistory from "./011-one-history.ts";
import * as secondLock from "./012-second-lock.ts";
import * as settled from "./013-settled.ts";
import * as clocks from "./014-clocks.ts";
import * as refuses from "./015-refuses.ts";
import * as backups from "./016-backups.ts";
import * as locale from "./017-locale.ts";
import * as firstHour from "./018-first-hour.ts";
import * as names from "./019-names.ts";
import * as editions from "./020-editions.ts";
import * as jots from "./021-jots.ts";
import * as audiences from "./022-audiences.ts";
import * as statements from "./023-statements.ts";
import * as circle from "./024-circle.ts";
import * as ownAccount from "./025-own-account.ts";
import * as accounts from "./026-accounts.ts";
import * as family from "./027-family.ts";
import * as passkeys from "./028-passkeys.ts";
import * as heldItems from "./029-held-items.ts";
import * as circleLock from "./030-circle-lock.ts";
import * as handOvers from "./031-hand-overs.ts";
import * as ownSettings from "./032-own-settings.ts";
import * as providers from "./033-providers.ts";
import * as sharedTablets from "./034-shared-tablets.ts";
import * as files from "./035-files.ts";
import * as packets from "./036-packets.ts";
import * as meetings from "./037-meetings.ts";
import * as dispatch from "./038-dispatch.ts";
import * as feedback from "./039-feedback.ts";
import * as auditSeals from "./040-audit-seals.ts";
import * as accessRecord from "./041-access-record.ts";
import * as dataAsks from "./042-data-asks.ts";
import * as retention from "./043-retention.ts";
import * as measuredIndexes from "./044-measured-indexes.ts";

const migrations: Record<string, { up: (knex: Knex) => Promise<void> }> = {
  "001-foundation": foundation,
  "002-goals": goals,
  "003-sittings": sittings,
  "004-together": together,
  "005-incidents": incidents,
  "006-plans": plans,
  "007-decisions": decisions,
  "008-clock": clock,
  "009-actors": actors,
  "010-unused-goal": unusedGoal,
  "011-one-history": oneHistory,
  "012-second-lock": secondLock,
  "013-settled": settled,
  "014-clocks": clocks,
  "015-refuses": refuses,
  "016-backups": backups,
  "017-locale": locale,
  "018-first-hour": firstHour,
  "019-names": names,
  "020-editions": editions,
  "021-jots": jots,
  "022-audiences": audiences,
  "023-statements": statements,
  "024-circle": circle,
  "025-own-account": ownAccount,
  "026-accounts": accounts,
  "027-family": family,
  "028-passkeys": passkeys,
  "029-held-items": heldItems,
  "030-circle-lock": circleLock,
  "031-hand-overs": handOvers,
  "032-own-settings": ownSettings,
  "033-providers": providers,
  "034-shared-tablets": sharedTablets,
  "035-files": files,
  "036-packets": packets,
  "037-meetings": meetings,
  "038-dispatch": dispatch,
  "039-feedback": feedback,
  "040-audit-seals": auditSeals,
  "041-access-record": accessRecord,
  "042-data-asks": dataAsks,
  "043-retention": retention,
  "044-measured-indexes": measuredIndexes,
};

/** The migrations of this program, in order. */
export const migrationNames: readonly string[] = Object.keys(migrations);

/** Migrations go forward only; the list is in code so that a bundle carries it. */
export const migrationSource: Knex.MigrationSource<string> = {
  getMigrations: () => Promise.resolve([...migrationNames]),
  getMigrationName: (name) => name,
  getMigration: (name) => {
    const found = migrations[name];
    if (!found) throw new Error(`There is no migration ${name}`);
    return Promise.resolve({
      up: found.up,
      down: () => Promise.reject(new Error("Migrations go forward only")),
    });
  },
};

import { connect } from "#server/db/connection.ts";
import { openProvider } from "./provider.ts";
import { school } from "./school.ts";

/**
 * The demo school's identity provider as a process of its own: it is set for the school, says where it is in its first line, and ends with
 * the process that started it. `provider-command.ts http://localhost:4717` names the site that may come.
 */
// The library warns that its keys and pages are for trials, which is what they are here.
console.warn = () => undefined;
console.info = () => undefined;
const { issuer, clientId, secret } = await openProvider(process.argv[2] ?? "");
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 1 });
await owner.raw(
  `insert into gate.providers (school_id, issuer, client_id, client_secret, label, tested_at, is_on)
   select school_id, :issuer, :clientId, :secret, 'Larkspur Bay account', now(), true from schools where name = :name
   on conflict (school_id) do update set issuer = excluded.issuer, client_id = excluded.client_id,
     client_secret = excluded.client_secret, label = excluded.label, tested_at = now(), is_on = true`,
  { issuer, clientId, secret, name: school.name },
);
await owner.destroy();
console.log(JSON.stringify({ issuer }));
process.on("disconnect", () => process.exit(0));

import pg from "pg";

/** One connection for as long as `work` takes: for what is done before there is an application. */
export async function withClient<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/** The role of the application: it owns no table. */
export const appRole = "gentle_margin_app";

/** What to do where a database cannot be reached or entered at an address, in one line; null where the error is of another kind. */
export function whyNotEntered(error: unknown, address: string): string | null {
  const code = error instanceof Error && "code" in error ? String(error.code) : "";
  const { hostname, port, username, pathname } = new URL(address);
  const place = `${hostname}:${port || "5432"}`;
  if (code.startsWith("28"))
    return `The database at ${place} does not let the account "${decodeURIComponent(username)}" in: its password in the address is wrong, or the account may not sign in from here.`;
  if (code === "3D000")
    return `At ${place} there is no database "${decodeURIComponent(pathname.slice(1))}". Create it, or correct the address.`;
  if (/^(ECONN|ENOTFOUND|EAI_AGAIN|ETIMEDOUT|EHOSTUNREACH)/.test(code))
    return `No PostgreSQL answers at ${place}. Start it, or correct the address.`;
  return null;
}

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
